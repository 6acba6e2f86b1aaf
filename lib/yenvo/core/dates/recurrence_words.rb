# frozen_string_literal: true

module Yenvo
  module Core
    # A recurrence of RFC 5545 in plain words, such as "Every month on day 1".
    module RecurrenceWords
      DAYS = {
        "MO" => "Monday", "TU" => "Tuesday", "WE" => "Wednesday", "TH" => "Thursday", "FR" => "Friday",
        "SA" => "Saturday", "SU" => "Sunday"
      }.freeze
      WORKDAYS = %w[MO TU WE TH FR].freeze
      UNITS = {"DAILY" => "day", "WEEKLY" => "week", "MONTHLY" => "month", "YEARLY" => "year"}.freeze
      PLACES = {
        1 => "first", 2 => "second", 3 => "third", 4 => "fourth", 5 => "fifth", -1 => "last", -2 => "last but one"
      }.freeze

      module_function

      # @param source [String] parts in capitals
      # @param starts [Date] for what the parts leave open
      # @return [String]
      def of(source, starts)
        parts = source.split(";").to_h { |part| part.split("=", 2) }
        every = parts.fetch("INTERVAL", "1").to_i
        unit = UNITS.fetch(parts["FREQ"])
        words = [
          (every == 1) ? "Every #{unit}" : "Every #{every} #{unit}s", days(parts, starts), months(parts), weeks(parts),
          ending(parts)
        ]
        words.compact.join(" ")
      end

      def days(parts, starts)
        named = parts["BYDAY"]&.split(",")
        return position(parts, named) if parts["BYSETPOS"]
        return "on #{list(named.map { |one| day(one) })}" if named
        return "on #{list(parts["BYMONTHDAY"].split(",").map { |one| month_day(one) })}" if parts["BYMONTHDAY"]
        return "on day #{list(parts["BYYEARDAY"].split(","))} of the year" if parts["BYYEARDAY"]
        return starts.strftime("on %A") if parts["BYWEEKNO"] || parts["FREQ"] == "WEEKLY"
        return "on day #{starts.day}" if parts["FREQ"] == "MONTHLY" || parts["BYMONTH"]

        starts.strftime("on %-d %B") if parts["FREQ"] == "YEARLY"
      end

      def position(parts, named)
        places = list(parts["BYSETPOS"].split(",").map { |one| place(one.to_i) })
        what = if named.nil? then "day"
        elsif named.sort == WORKDAYS.sort then "weekday"
        else list(named.map { |one| day(one) }, "or")
        end
        "on the #{places} #{what}"
      end

      def day(text)
        number = text[/\A[+-]?\d+/]
        name = DAYS.fetch(text[-2..])
        number ? "the #{place(number.to_i)} #{name}" : name
      end

      def month_day(text)
        number = text.to_i
        return "day #{number}" if number.positive?

        (number == -1) ? "the last day" : "day #{-number} from the end"
      end

      def place(number) = PLACES.fetch(number) { number.positive? ? "#{number}th" : "#{-number}th from the end" }

      def months(parts) =
        parts["BYMONTH"] && "in #{list(parts["BYMONTH"].split(",").map { |one| Date::MONTHNAMES[one.to_i] })}"

      def weeks(parts) = parts["BYWEEKNO"] && "in week #{list(parts["BYWEEKNO"].split(","))}"

      def ending(parts)
        return "until #{Show.date(Date.strptime(parts["UNTIL"][0, 8], "%Y%m%d"))}" if parts["UNTIL"]

        parts["COUNT"] && ((parts["COUNT"] == "1") ? "one time" : "#{parts["COUNT"]} times")
      end

      def list(words, joiner = "and") =
        (words.size < 2) ? words.join : "#{words[0..-2].join(", ")} #{joiner} #{words[-1]}"
    end
  end
end
