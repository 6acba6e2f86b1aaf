# frozen_string_literal: true

module Yenvo
  module Core
    module Timing
      # Days of the calendar that come again: one timer for the whole rule.
      class ByCalendar < Base
        def initialize(rule, trigger)
          @recurrence = trigger.recurrence
          @once = trigger.once?
          super(rule)
        end

        def name = "schedule"
        def per = :rule
        def touched?(_event) = false
        def again? = true

        # @return [Boolean] whether it fires once, about no record
        def once? = @once

        # @return [Time, nil] the next moment after another
        def next_after(moment) = @recurrence.next_after(moment)

        # @return [Array<Time>]
        def coming(moment, count) = @recurrence.after(moment, count)
      end
    end
  end
end
