# frozen_string_literal: true

require "date"
require "icalendar"
require "logger"

# What it has to say is said by the refusal, with the line.
Icalendar.logger = Logger.new(IO::NULL)

module Yenvo
  module Core
    # Reads days off from a calendar file (iCalendar, RFC 5545), with the icalendar gem. What takes whole days counts;
    # what comes again is worked out for some years, and what comes each year on the same day is kept as that.
    class CalendarFile
      MAX_BYTES = 1_000_000
      MAX_EVENTS = 2_000
      MAX_STRETCHES = 400
      # Days that one event may take.
      LONGEST = 366
      # Years behind and ahead of the day of reading for which recurrences are worked out.
      YEARS = (-1..5)
      LINE = /\A[-A-Za-z0-9]+(;[^:"]*("[^"]*"[^:"]*)*)?:/
      YEARLY = /\AFREQ=YEARLY(;INTERVAL=1)?\z/

      # What was read. stretches: Array of DaysOff::Stretch, by first day; left_out: events that take part of a day
      # only.
      Found = Value.define(:stretches, :left_out)

      # @param text [String]
      # @param today [Date]
      # @return [Found]
      # @raise [Unreadable] a sentence that names the line
      def self.read(text, today:) = new(text, today).found

      def initialize(text, today)
        raise Unreadable, "A calendar file has at most 1 MB; this one is larger." if text.bytesize > MAX_BYTES

        @text = text.dup.force_encoding(Encoding::UTF_8).delete_prefix("\uFEFF")
        raise Unreadable, "The file is no text (UTF-8), so no calendar file." unless @text.valid_encoding?

        @window = (Date.new(today.year + YEARS.min, 1, 1)..Date.new(today.year + YEARS.max, 12, 31))
      end

      # @return [Found]
      def found
        events = blocks.map { |line, block| [line, event(line, block)] }
        whole, part = events.partition { |_, event| event.dtstart.is_a?(Icalendar::Values::Date) }
        stretches = whole.flat_map { |line, event| stretches(line, event) }.uniq.sort_by { |one| [one.from, one.name] }
        if stretches.size > MAX_STRETCHES
          raise Unreadable,
            "The file comes to #{Show.count(stretches.size)} days off and stretches of them, and a calendar holds " \
            "#{MAX_STRETCHES}. Take the events out that are no days off."
        end
        Found.new(stretches:, left_out: part.size)
      end

      private

      # @return [Array<Array(Integer, String)>] each event as it is written, with the number of its first line
      def blocks
        found = []
        open = []
        lines.each do |number, line|
          broken(number, line) unless LINE.match?(line)
          found << [number, +""] if /\ABEGIN:VEVENT\z/i.match?(line) && open.last != "VEVENT"
          found.last[1] << line << "\r\n" if open.include?("VEVENT") || /\ABEGIN:VEVENT\z/i.match?(line)
          follow(open, number, line)
        end
        raise Unreadable, "The file ends within #{open.last}; some of it may be missing." if open.any?
        raise Unreadable, "There is no event in the file." if found.empty?
        raise Unreadable, "The file has more than #{Show.count(MAX_EVENTS)} events." if found.size > MAX_EVENTS

        found
      end

      # @return [Array<Array(Integer, String)>] unfolded lines (RFC 5545, 3.1), each with the number of its first one
      def lines
        all = []
        @text.split(/\r\n|\n|\r/).each.with_index(1) do |line, number|
          next all.last[1] << line[1..] if line.start_with?(" ", "\t") && all.any?

          all << [number, +line] unless line.strip.empty?
        end
        unless all.dig(0, 1)&.casecmp?("BEGIN:VCALENDAR")
          raise Unreadable, "Line 1 should be BEGIN:VCALENDAR; this is no calendar file."
        end
        all
      end

      def follow(open, number, line)
        word, name = line.split(":", 2)
        open.push(name.upcase) if word.casecmp?("BEGIN")
        return unless word.casecmp?("END")

        (open.last == name.upcase) ? open.pop : broken(number, line)
      end

      def broken(number, line) =
        raise(Unreadable, "Line #{number} does not fit a calendar file: #{Show.quoted(line[0, 60])}.")

      # @return [Icalendar::Event]
      def event(number, block)
        found = Icalendar::Calendar.parse("BEGIN:VCALENDAR\r\n#{block}END:VCALENDAR\r\n").first.events.first
        found&.dtstart or raise Unreadable, "The event that begins on line #{number} has no DTSTART."
        found
      rescue Unreadable
        raise
      rescue => error
        raise Unreadable,
          "The event that begins on line #{number} cannot be read: #{Show.quoted(error.message[0, 80])}."
      end

      def stretches(number, event)
        return [] if event.status.to_s.casecmp?("CANCELLED")

        first = day(event.dtstart)
        days = length(number, event, first)
        name = Reading.trim(event.summary.to_s.gsub(/[[:cntrl:]\p{Cf}]/, " "))[0, 80]
        name = "Day off" if name.empty?
        rule = event.rrule.first&.value_ical
        return [stretch(first, days, name, yearly: true)] if rule && YEARLY.match?(rule) && event.exdate.empty?

        (rule ? coming(number, rule, first) : [first])
          .concat(event.rdate.flatten.map { |one| day(one) }).difference(event.exdate.flatten.map { |one| day(one) })
          .map { |one| stretch(one, days, name) }
      end

      def stretch(from, days, name, yearly: false) = DaysOff::Stretch.new(from:, to: from + days - 1, name:, yearly:)

      # The end is the first day after it; without one it takes a day (RFC 5545, 3.6.1).
      def length(number, event, first)
        days = event.dtend ? (day(event.dtend) - first).to_i : duration(event.duration)
        return days if days.between?(1, LONGEST)

        raise Unreadable, "The event that begins on line #{number} takes #{days} days; it should take 1 to #{LONGEST}."
      end

      def duration(given) = given ? (given.weeks * 7) + given.days : 1

      def day(value) = Date.new(value.year, value.month, value.day)

      # @return [Array<Date>] the days within the window on which it comes
      def coming(number, rule, first)
        found, wrong = Recurrence.read(rule, starts: first, minutes: 0, calendar: Calendar.new)
        return found.days_within(@window) if found

        raise Unreadable, "The recurrence of the event that begins on line #{number} #{wrong}."
      end
    end
  end
end
