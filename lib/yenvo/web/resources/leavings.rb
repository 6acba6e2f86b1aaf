# frozen_string_literal: true

module Yenvo
  module Web
    # Whoever leaves hands over; for administrators.
    class Leavings < Base
      before { may.set_up! }

      get("/?") { answer 200, shown(params["person"]) }

      post "/?" do
        hand_over.begin(body_of_call["person"], body_of_call["to"], cause:)
        answer 200, shown(body_of_call["person"])
      end

      post "/back" do
        hand_over.take_back(body_of_call["person"], cause:)
        answer 200, shown(body_of_call["person"])
      end

      private

      def hand_over = Store::HandOver.new(root)

      def shown(key)
        root.people.find(key) || raise(Store::NotFound, "There is no person #{key.inspect}.")
        job = hand_over.latest(key)
        till = hand_over.back_until(key, now:)
        {counts: hand_over.counts(key), job: job && present.house_job(job), back_until: Core::Reading.plain(till)}
      end
    end
  end
end
