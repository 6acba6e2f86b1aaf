# frozen_string_literal: true

module Yenvo
  module Core
    # "N units before or after (now, the event, a date field), at HH:MM, and for a day off: later, earlier, stays."
    # count: Integer; unit: one of UNITS; direction: "before" or "after"; from: "now", "event" or a path to a date
    # field; at: "HH:MM" or nil; day_off: one of DAY_OFF.
    DateRule =
      Value.define(:count, :unit, :direction, :from, :at, :day_off) do
        # @return [Hash] as in a rule file
        def to_h =
          {
            "count" => count, "unit" => unit, "direction" => direction, "from" => from, "at" => at, "day_off" => day_off
          }.compact

        def clocked? = DateRule::CLOCKED.key?(unit)
      end

    # Units in which days are counted, and units in which the clock runs, in minutes.
    DateRule::CLOCKED = {"minutes" => 1, "hours" => 60, "working_hours" => 60}.freeze
    DateRule::UNITS = %w[minutes hours working_hours days working_days weeks months].freeze
    DateRule::DIRECTIONS = %w[before after].freeze
    DateRule::DAY_OFF = %w[later earlier stays].freeze
    DateRule::MAX_COUNT = 1_000
  end
end
