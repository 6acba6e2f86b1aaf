# frozen_string_literal: true

module Yenvo
  module Core
    # Reads a date as people say it: "Friday 9:00", "in 2 working days", "tomorrow at 14", "3 Dec", "next week".
    # Weekdays and days of the month are the next ones to come. A day off is left as it is, since somebody asked for it.
    class DateWords
      MAX = 60
      MONTHS = %w[jan feb mar apr may jun jul aug sep oct nov dec].freeze
      WEEKDAYS = %w[sun mon tue wed thu fri sat].freeze
      UNITS = {
        "day" => :days, "working day" => :working_days, "wd" => :working_days, "week" => :weeks, "month" => :months,
        "hour" => :hours, "working hour" => :working_hours, "minute" => :minutes, "min" => :minutes
      }.freeze
      NUMBERS = {
        "a" => 1, "an" => 1, "one" => 1, "two" => 2, "three" => 3, "four" => 4, "five" => 5, "six" => 6, "seven" => 7,
        "eight" => 8, "nine" => 9, "ten" => 10
      }.freeze
      CLOCK = /
        (?:\s+|\A)(?:at\s+)?(?<hour>\d{1,2})(?:[:.h](?<minute>\d{2}))(?:\s*(?<half>am|pm))?\z
        | \s+at\s+(?<hour>\d{1,2})(?:\s*(?<half>am|pm))?\z
        | (?:\s+|\A)(?<hour>\d{1,2})\s*(?<half>am|pm)\z
      /x
      DAY = /
        \A(?:(?:sun|mon|tue|wed|thu|fri|sat)[a-z]*,?\ )?(?:the\ )?
        (\d{1,2})(?:st|nd|rd|th)?\.?(?:\ (?:of\ )?([a-z]{3})[a-z]*(?:\ (\d{4}))?)?\z
      /x
      private_constant :CLOCK, :DAY

      # A day, and minutes of the day where a time was named.
      Found = Value.define(:on, :minutes)

      # @param text [String]
      # @param now [Time]
      # @param calendar [Calendar]
      # @return [Found, nil] nil when it cannot be read
      def self.read(text, now:, calendar:) = new(now, calendar).read(text)

      def initialize(now, calendar)
        @calendar = calendar
        @now = now
        @today = calendar.date_of(now)
      end

      def read(text)
        words = text.to_s.strip.downcase.gsub(/\s+/, " ")
        return if words.empty? || words.size > MAX

        words, minutes = take_clock(words)
        return if minutes == :wrong

        if words.empty?
          at_time(minutes)
        else
          by_the_clock(words) || day(words)&.then { |on| Found.new(on:, minutes:) }
        end
      rescue Error, Date::Error, RangeError
        nil
      end

      private

      def take_clock(words)
        found = CLOCK.match(words) or return [words, nil]
        hour, minute = found[:hour].to_i, found[:minute].to_i
        half = found[:half]
        return [words, :wrong] if half && !hour.between?(1, 12)

        hour = (hour % 12) + ((half == "pm") ? 12 : 0) if half
        return [words, :wrong] unless hour.between?(0, 23) && minute.between?(0, 59)

        [found.pre_match.strip.delete_suffix(" at").delete_suffix(","), (hour * 60) + minute]
      end

      # A time alone is today, or tomorrow when it is over.
      def at_time(minutes)
        on = (@calendar.zone.at(@today, minutes) > @now) ? @today : @today + 1
        Found.new(on:, minutes:)
      end

      def by_the_clock(words)
        count, unit = amount(words)
        return unless %i[hours working_hours minutes].include?(unit)

        moment = if unit == :working_hours
          @calendar.add_working_minutes(@now, count * 60)
        else
          @now + (count * ((unit == :hours) ? 3_600 : 60))
        end
        local = @calendar.zone.local(moment)
        Found.new(on: local.to_date, minutes: (local.hour * 60) + local.min)
      end

      def day(words) = named(words) || counted(words) || weekday(words) || date(words)

      def named(words)
        case words
        when "today"
          @today
        when "tomorrow"
          @today + 1
        when "day after tomorrow", "the day after tomorrow"
          @today + 2
        when "next working day"
          @calendar.add_working_days(@today, 1)
        when "next week"
          monday(1)
        when "in a fortnight"
          @today + 14
        when "end of the week", "end of week"
          last_working_day(monday(0), 6)
        when "next month"
          Date.new(@today.year, @today.month, 1) >> 1
        when "end of the month", "end of month"
          last_working_day(Date.new(@today.year, @today.month, 1), Date.new(@today.year, @today.month, -1).day - 1)
        end
      end

      def monday(weeks) = @today - ((@today.wday - 1) % 7) + (7 * weeks)

      # The last working day of a stretch, or its last day where nobody works in it.
      def last_working_day(from, days) =
        days.downto(0).map { |n| from + n }.find { |one| @calendar.working_day?(one) } || (from + days)

      def amount(words)
        found = /\Ain (\d{1,3}|[a-z]+) (.+?)s?\z/.match(words) or return
        count = found[1].match?(/\d/) ? found[1].to_i : NUMBERS[found[1]]
        unit = UNITS[found[2]] || UNITS[found[2].delete_suffix("s")]
        [count, unit] if count && unit
      end

      def counted(words)
        count, unit = amount(words)
        case unit
        when :days then @today + count
        when :weeks then @today + (7 * count)
        when :months then @calendar.add_months(@today, count)
        when :working_days then @calendar.add_working_days(@today, count)
        end
      end

      def weekday(words)
        found = /\A(next |on )?(sun|mon|tue|wed|thu|fri|sat)[a-z]*\z/.match(words) or return
        on = @today + (((WEEKDAYS.index(found[2]) - @today.wday - 1) % 7) + 1)
        (found[1] == "next " && on < monday(1)) ? on + 7 : on
      end

      def date(words)
        return Date.iso8601(words) if words.match?(/\A\d{4}-\d{2}-\d{2}\z/)
        if words =~ /\A(#{MONTHS.join("|")})[a-z]* (\d{1,2})(?:st|nd|rd|th)?(?:,? (\d{4}))?\z/
          return day_month(Regexp.last_match(2).to_i, Regexp.last_match(1), Regexp.last_match(3))
        end

        found = DAY.match(words) or return
        found[2] ? day_month(found[1].to_i, found[2], found[3]) : day_of_month(found[1].to_i)
      end

      def day_month(day, month, year)
        number = MONTHS.index(month)&.succ or return
        on = Date.new((year || @today.year).to_i, number, day)
        (year.nil? && on < @today) ? Date.new(@today.year + 1, number, day) : on
      end

      # "the 15th" is the next one to come.
      def day_of_month(day)
        13.times do |ahead|
          month = Date.new(@today.year, @today.month, 1) >> ahead
          next unless Date.valid_date?(month.year, month.month, day)

          on = Date.new(month.year, month.month, day)
          return on if on > @today
        end
        nil
      end
    end
  end
end
