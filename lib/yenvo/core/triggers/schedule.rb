# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # Days of the calendar that come again (RFC 5545), at a time of day: for each record that meets "only if" then, or
      # once, about no record.
      class Schedule < TimerTrigger
        def self.takes =
          {"recurs" => :recurrence, "starts" => :day, "at" => :time, "day_off" => :day_off, "once" => :flag}

        def self.needs = %w[recurs starts at]
        def self.short = "schedule"
        # The calendar goes through records.
        def self.of_tasks? = false
        def self.words = "comes up by the calendar"

        # @return [Recurrence]
        attr_reader :recurrence

        def check(problems)
          starts = Date.iso8601(settings["starts"])
          unless starts.year.between?(2000, 2200)
            return problems << Problem.at(%w[trigger starts], "must be a day between 2000 and 2200")
          end

          @recurrence, wrong =
            Recurrence.read(
              settings["recurs"], starts:, minutes: ClockTime.parse(settings["at"]) || 0,
              calendar: schema.calendar, day_off: settings["day_off"] || "stays"
            )
          problems << Problem.at(["trigger", "recurs"], wrong) if wrong
        rescue Date::Error
          problems << Problem.at(["trigger", "starts"], "must be a date such as 2026-12-01")
        end

        def task? = false
        def once? = settings["once"] == true
        def timing(rule) = Timing::ByCalendar.new(rule, self)

        def sentence =
          "#{RecurrenceWords.of(recurrence.source, recurrence.starts)} at #{settings["at"]}, " \
          "#{once? ? "once" : "for each #{kind.noun}"}"

        private

        def timer_name = "schedule"
      end
    end
  end
end
