# frozen_string_literal: true

module Yenvo
  module Core
    # "N units before or after (now, the event, a date field), at HH:MM, and for a day off: later, earlier, stays."
    # count: Integer; unit: one of UNITS; direction: "before" or "after"; from: "now", "event" or a path to a date
    # field; at: "HH:MM" or nil; day_off: one of DAY_OFF; first: which day on or after that it is, one of FIRST, a day
    # of the month (1 to 31, in shorter months the last), or nil for that day itself; otherwise: DateRule for when the
    # date field is empty, or nil.
    DateRule =
      Value.define(:count, :unit, :direction, :from, :at, :day_off, first: nil, otherwise: nil) do
        # @return [Hash] as in a rule file
        def to_h =
          {
            "count" => count, "unit" => unit, "direction" => direction, "from" => from, "first" => first, "at" => at,
            "day_off" => day_off, "otherwise" => otherwise&.to_h
          }.compact

        def clocked? = DateRule::CLOCKED.key?(unit)
      end

    # Units in which days are counted, and units in which the clock runs, in minutes.
    DateRule::CLOCKED = {"minutes" => 1, "hours" => 60, "working_hours" => 60}.freeze
    DateRule::UNITS = %w[minutes hours working_hours days working_days weeks months].freeze
    DateRule::DIRECTIONS = %w[before after].freeze
    DateRule::DAY_OFF = %w[later earlier stays].freeze
    DateRule::MAX_COUNT = 1_000
    DateRule::WEEKDAYS = %w[sunday monday tuesday wednesday thursday friday saturday].freeze
    DateRule::FIRST = [*DateRule::WEEKDAYS.rotate, "working_day"].freeze
  end
end
