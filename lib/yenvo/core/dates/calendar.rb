# frozen_string_literal: true

module Yenvo
  module Core
    # The working calendar: when work is done, and counting in working days and working time.
    # Dates are local days of the zone; moments are Times in UTC.
    class Calendar
      MAX_DAYS_AHEAD = 3_700

      attr_reader :zone

      # @param zone [String] IANA name
      # @param hours [Hash{Integer => Array(Integer, Integer)}] weekday (0 Sunday to 6) to minutes of the day, from and
      #   to
      # @param days_off [DaysOff]
      # @param absences [Hash{String => Array<Array(Date, Date)>}] person to stretches, both ends counted in
      def initialize(zone: "UTC", hours: (1..5).to_h { |day| [day, [540, 1020]] }, days_off: DaysOff.new, absences: {})
        @zone = Zone.new(zone)
        @hours = hours
        @days_off = days_off
        @absences = absences
      end

      # @return [Boolean] whether there is no weekday on which anybody works
      def idle? = @hours.empty?

      # @param date [Date]
      def working_day?(date) = @hours.key?(date.wday) && @days_off.name(date).nil?

      # @return [String, nil] why nobody works that day
      def off_because(date) = @days_off.name(date) || (@hours.key?(date.wday) ? nil : date.strftime("%A"))

      # @return [Date, nil] the last day of the absence that covers the day, nil when the person is there
      def away_until(person, date)
        @absences.fetch(person, []).find { |from, to| date.between?(from, to) }&.last
      end

      # @return [Array<Array(Date, Date)>] the person's stretches
      def absences_of(person) = @absences.fetch(person, [])

      # Counts working days; from a day off, one working day ahead is the next working day.
      # @param count [Integer] negative counts back; 0 leaves the date
      # @return [Date]
      # @raise [Error] when there is no such day within ten years
      def add_working_days(date, count)
        step = (count <=> 0)
        left = count.abs
        tried = 0
        while left.positive?
          date += step
          left -= 1 if working_day?(date)
          if (tried += 1) > MAX_DAYS_AHEAD
            raise Error, "The working calendar has no day to work within ten years; check its hours and days off."
          end
        end
        date
      end

      # @param way [String] "later", "earlier" or "stays"
      # @param time [Time]
      # @return [Date] the local day
      def date_of(time) = zone.date_of(time)

      # @return [Date] the date itself when it is a working day
      def roll(date, way)
        return date if way == "stays" || working_day?(date)

        add_working_days(date, (way == "later") ? 1 : -1)
      end

      # @param count [Integer] negative counts back
      # @return [Date] the same day of another month, or the last of it
      def add_months(date, count) = date >> count

      # @param time [Time]
      # @param minutes [Integer] of working time; negative counts back
      # @return [Time] UTC
      def add_working_minutes(time, minutes)
        day = zone.date_of(time)
        forward = minutes >= 0
        left = minutes.abs * 60.0
        MAX_DAYS_AHEAD.times do
          from, to = span(day)
          if from
            start = forward ? [time, from].max : [time, to].min
            room = forward ? to - start : start - from
            return (forward ? start + left : start - left).getutc if room.positive? && left <= room

            left -= [room, 0].max
          end
          day += forward ? 1 : -1
        end
        raise Error, "The working calendar has no time to work within ten years; check its hours and days off."
      end

      # @return [Integer] whole minutes of working time between two moments, 0 when the second is not later
      def working_minutes(from, to)
        return 0 if to <= from

        (zone.date_of(from)..zone.date_of(to)).sum do |day|
          opens, closes = span(day)
          opens ? [[closes, to].min - [opens, from].max, 0].max : 0
        end.to_i / 60
      end

      # @return [Integer] working days after the first date up to and with the second; negative when it is earlier
      def working_days(from, to)
        return -working_days(to, from) if to < from

        ((from + 1)..to).count { |day| working_day?(day) }
      end

      # @return [Integer] minutes of work in an ordinary working day
      def minutes_a_day = @hours.values.map { |from, to| to - from }.max || 480

      # @return [Array(Time, Time), nil] first and last moment of work on a day
      def span(date)
        return unless working_day?(date)

        from, to = @hours[date.wday]
        [zone.at(date, from), zone.at(date, to)]
      end
    end
  end
end
