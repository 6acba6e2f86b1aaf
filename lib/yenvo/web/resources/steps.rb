# frozen_string_literal: true

module Yenvo
  module Web
    # The first steps of a new house, for its administrators.
    class Steps < Base
      before { may.set_up! }

      get("/?") { answer 200, shown }

      delete "/?" do
        steps.put_away
        answer 200, shown
      end

      private

      def steps = Store::FirstSteps.new(root)
      def shown = {away: steps.away?, steps: steps.all.map { |key, done| {key:, done:} }}
    end
  end
end
