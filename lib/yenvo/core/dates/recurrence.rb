# frozen_string_literal: true

require "date"
require "rrule"

module Yenvo
  module Core
    # Days that come again, as RFC 5545 (section 3.3.10) writes them, each at a time of day on the wall clock of the
    # working calendar. The rrule gem counts in local days, so daylight saving can neither drop nor double one.
    class Recurrence
      MAX_SOURCE = 300
      YEARS_AHEAD = 10
      FREQUENCIES = %w[DAILY WEEKLY MONTHLY YEARLY].freeze
      PARTS = %w[FREQ INTERVAL COUNT UNTIL WKST BYDAY BYMONTHDAY BYYEARDAY BYWEEKNO BYMONTH BYSETPOS].freeze
      # What each part may hold; so much of the grammar keeps the gem from reading nonsense as something else.
      VALUES = {
        "FREQ" => /\A(#{FREQUENCIES.join("|")})\z/, "INTERVAL" => /\A[1-9]\d{0,2}\z/, "COUNT" => /\A[1-9]\d{0,3}\z/,
        "UNTIL" => /\A\d{8}(T\d{6}Z?)?\z/, "WKST" => /\A(MO|TU|WE|TH|FR|SA|SU)\z/,
        "BYDAY" => /\A[+-]?\d{0,2}(MO|TU|WE|TH|FR|SA|SU)(,[+-]?\d{0,2}(MO|TU|WE|TH|FR|SA|SU))*\z/
      }.freeze
      NUMBERS = /\A-?[1-9]\d{0,2}(,-?[1-9]\d{0,2})*\z/
      LARGEST = {"BYMONTHDAY" => 31, "BYYEARDAY" => 366, "BYWEEKNO" => 53, "BYMONTH" => 12, "BYSETPOS" => 366}.freeze

      attr_reader :source, :starts, :minutes, :day_off

      # The quiet door.
      # @param source [String] such as "FREQ=MONTHLY;BYMONTHDAY=1", with or without "RRULE:"
      # @param starts [Date] the first day that counts (DTSTART)
      # @param minutes [Integer] of the day, by the wall clock
      # @param day_off [String] what a day off does to an occurrence: later, earlier, stays
      # @return [Array(Recurrence, nil), Array(nil, String)] nil and a sentence when it cannot be read
      def self.read(source, starts:, minutes:, calendar:, day_off: "stays")
        plain = source.to_s.strip.delete_prefix("RRULE:").upcase
        wrong = misread(plain)
        return [nil, wrong] if wrong

        found = new(plain, starts, minutes, calendar, day_off)
        if found.after(found.first_look, 1).empty?
          [nil, "must come to a day within #{YEARS_AHEAD} years; #{plain} never does"]
        else
          [found, nil]
        end
      rescue Error => error
        [nil, "must come to days that can be worked out: #{error.message}"]
      end

      def self.misread(plain)
        unless plain.size.between?(1, MAX_SOURCE)
          return "must be a recurrence of RFC 5545 such as FREQ=MONTHLY;BYMONTHDAY=1"
        end

        parts = plain.split(";").map { |part| part.split("=", 2) }
        names = parts.map(&:first)
        unknown = names - PARTS
        if unknown.any?
          known = "must use parts of a recurrence that count in days (#{PARTS.join(", ")})"
          return "#{known}; #{unknown.join(", ")} is none. The time of day stands beside it"
        end
        return "must name each part once" if names.uniq.size != names.size
        return "must say how often: FREQ=#{FREQUENCIES.join(", FREQ=")}" unless names.include?("FREQ")

        name, value = parts.find { |part, given| !fits?(part, given.to_s) }
        name && "must have a fitting value for #{name}; #{value.to_s[0, 40].inspect} is none"
      end

      def self.fits?(name, value)
        return VALUES[name].match?(value) if VALUES.key?(name)

        NUMBERS.match?(value) && value.split(",").all? { |one| one.to_i.abs.between?(1, LARGEST.fetch(name)) } &&
          (name != "BYMONTH" || !value.include?("-"))
      end
      private_class_method :misread, :fits?

      def initialize(plain, starts, minutes, calendar, day_off)
        @source = plain
        @starts = starts
        @minutes = minutes
        @calendar = calendar
        @day_off = day_off
        # UNTIL with a time counts by its local day, since the time of day is another setting.
        @last = plain[/UNTIL=(\d{8})/, 1]&.then { |text| Date.strptime(text, "%Y%m%d") }
        parts = plain.split(";").reject { |part| part.start_with?("UNTIL=") }
        # A week without a weekday means that of DTSTART; the gem would take all of it.
        if plain.include?("BYWEEKNO=") && !plain.match?(/BYDAY=|BYMONTHDAY=|BYYEARDAY=/)
          parts << "BYDAY=#{%w[SU MO TU WE TH FR SA][starts.wday]}"
        end
        @bare = parts.join(";")
      rescue Date::Error
        raise Error, "the day of UNTIL is no day of the calendar."
      end

      # @param moment [Time]
      # @param count [Integer]
      # @return [Array<Time>] the next moments after it, in order, each once
      def after(moment, count)
        days(@calendar.date_of(moment) - 5).lazy.map { |day| moment_of(day) }.select { |found| found > moment }
          .uniq.first(count).sort
      end

      # @return [Time, nil] the next moment after another
      def next_after(moment) = after(moment, 1).first

      # @return [Time] a moment before which nothing comes
      def first_look = @calendar.zone.midnight(@starts) - 86_400

      # @param range [Range<Date>]
      # @return [Array<Date>] its days, as they are before a day off moves them
      def days_within(range) = days(range.begin).take_while { |day| day <= range.end }

      private

      # @param floor [Date] days before it may be left out
      def days(floor)
        from = [floor, @starts].max
        rule = RRule::Rule.new(@bare, dtstart: @starts, max_year: from.year + YEARS_AHEAD)
        Enumerator.new do |out|
          rule.each(floor_date: from) do |day|
            break if @last && day > @last

            out << day if day >= from
          end
        end
      end

      def moment_of(day) = @calendar.zone.at(@calendar.roll(day, @day_off), @minutes)
    end
  end
end
