# frozen_string_literal: true

module Yenvo
  module Core
    module Timing
      # The day on which conditions become true without any change, such as "Days quiet at least 10". Days are gone
      # through for one record, two months ahead; at their end it is looked at again.
      class ByDay < Base
        AHEAD = 62

        def initialize(rule)
          @calendar = rule.schema.calendar
          super(rule, needs: rule.needs_to_match)
        end

        def name = "day"

        # Anything may move it: its conditions look at what is worked out.
        def touched?(event) = super || (event.what == "record_changed" || event.what == "interaction_logged")
        def again? = true

        # A day that has come is not lost to a later look, as long as its conditions hold.
        def overdue?(kept, facts) = !kept.due.nil? && !kept.look && kept.due <= facts.event.at && holds?(facts)

        def due(facts, since: nil)
          today = facts.today(@calendar)
          held = holds?(facts)
          (1..AHEAD).each do |n|
            moment = @calendar.zone.midnight(today + n)
            holds = holds?(facts.as_of(moment, today + n))
            return [moment, false] if holds && !held

            held = holds
          end
          [@calendar.zone.midnight(today + AHEAD), true]
        end

        private

        def holds?(facts) = !rule.rows_for(facts).nil? && rule.rows_for(facts).any?
      end
    end
  end
end
