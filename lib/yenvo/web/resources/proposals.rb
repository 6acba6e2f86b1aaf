# frozen_string_literal: true

module Yenvo
  module Web
    # Tasks and messages that wait for the person who caused them.
    class Proposals < Base
      get("/?") { answer 200, {proposals: present.proposals(sight.about(root.proposals.of(person[:key])))} }

      post "/:id/send" do
        waiting!
        answer 200, present.task(root.proposals.send_off(id, body_of_call["task"], cause:))
      end

      post "/:id/send-message" do
        waiting!
        answer 200, {message: root.proposals.send_message(id, body_of_call["message"], cause:)}
      end

      post "/:id/throw" do
        waiting!
        root.proposals.throw_away(id, cause:)
        answer 200, {thrown: true}
      end

      private

      def waiting!
        found = sight.about([root.proposals.find!(id, person[:key])])
        raise Store::NotFound, Store::Proposals::GONE if found.empty?
      end
    end
  end
end
