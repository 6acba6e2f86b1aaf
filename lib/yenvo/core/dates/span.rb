# frozen_string_literal: true

module Yenvo
  module Core
    # A stretch of time from now, such as 5 working days, as conditions use it. count: Integer; unit: one of UNITS.
    Span =
      Value.define(:count, :unit) do
        # @param value [Object] Hash with count and unit
        # @return [Span]
        # @raise [Unreadable]
        def self.read(value)
          good =
            value.is_a?(Hash) && value["count"].is_a?(Integer) && value["count"].between?(0, Span::MAX_COUNT) &&
            Span::UNITS.include?(value["unit"])
          if good
            new(count: value["count"], unit: value["unit"])
          else
            raise(
              Unreadable,
              "it takes a number from 0 to #{Show.count(Span::MAX_COUNT)} and a unit (#{Span::UNITS.join(", ")})."
            )
          end
        end

        # @param now [Time]
        # @param sign [Integer] 1 ahead, -1 back
        # @return [Time] the moment that far away
        def moment(now, sign, calendar)
          minutes = DateRule::CLOCKED[unit]
          if minutes
            return (
              (
                if unit == "working_hours"
                  calendar.add_working_minutes(now, sign * count * 60)
                else
                  now + (sign * count * minutes * 60)
                end
              )
            )
          end

          local = calendar.zone.local(now)
          calendar.zone.at(day(local.to_date, sign, calendar), (local.hour * 60) + local.min) + local.sec + local.subsec
        end

        # @param today [Date]
        # @return [Date] the day that far away; for hours, the day on which the moment falls at noon
        def day(today, sign, calendar)
          case unit
          when "days" then today + (sign * count)
          when "weeks" then today + (sign * 7 * count)
          when "months" then calendar.add_months(today, sign * count)
          when "working_days" then calendar.add_working_days(today, sign * count)
          else calendar.date_of(moment(calendar.zone.at(today, 720), sign, calendar))
          end
        end

        def to_h = {"count" => count, "unit" => unit}

        # @return [String] such as "5 working days"
        def to_s = "#{count} #{Span.unit_words(unit, count)}"
      end
    Span::UNITS = %w[minutes hours working_hours days working_days weeks months].freeze
    Span::MAX_COUNT = 1_000

    class << Span
      # @return [String] such as "working day" for one, "working days" for more
      def unit_words(unit, count) = unit.tr("_", " ").delete_suffix((count == 1) ? "s" : "")
    end
  end
end
