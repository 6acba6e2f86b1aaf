# frozen_string_literal: true

module Yenvo
  module Core
    # The working calendar: when work is done, and counting in working days and working time.
    # Dates are local days of the zone; moments are Times in UTC.
    class Calendar
      MAX_DAYS_AHEAD = 3_700
      # What a day off does to a date.
      STAYS = "stays"
      LATER = "later"

      attr_reader :zone

      # @param zone [String] IANA name
      # @param hours [Hash{Integer => Array(Integer, Integer)}] weekday (0 Sunday to 6) to minutes of the day, from and
      #   to
      # @param days_off [DaysOff]
      # @param absences [Hash{String => Array<Array(Date, Date)>}] person to stretches, both ends counted in
      # @param weeks [Hash{String => Hash}] of persons who work hours of their own, as +hours+
      def initialize(
        zone: "UTC", hours: (1..5).to_h { |day| [day, [540, 1020]] }, days_off: DaysOff.new, absences: {}, weeks: {}
      )
        @zone = Zone.new(zone)
        @hours = hours
        @days_off = days_off
        @absences = absences
        @weeks = weeks
      end

      # @return [Boolean] whether there is no weekday on which anybody works
      def idle? = @hours.empty?

      # @param wday [Integer] 0 for Sunday to 6
      # @return [Boolean] whether somebody works on such days at all
      def works_on?(wday) = @hours.key?(wday)

      # @param date [Date]
      def working_day?(date) = @hours.key?(date.wday) && @days_off.name(date).nil?

      # @return [String, nil] why nobody works that day
      def off_because(date) = @days_off.name(date) || (@hours.key?(date.wday) ? nil : date.strftime("%A"))

      # @return [Date, nil] the last day in a row on which the person is not there though others work, from that day on;
      #   nil when they are there
      def away_until(person, date)
        last = absent_until(person, date) || (date if free?(person, date)) or return
        # A day off beside an absence belongs to it.
        WEEK.times { free?(person, last + 1) ? last += 1 : break }
        last
      end
      WEEK = 7

      # @return [Float] how much of the working time of a day the person works, 1.0 for all of it
      def share(person, date)
        own = @weeks[person] or return 1.0
        from, to = own[date.wday]
        opens, closes = @hours[date.wday]
        (from && opens) ? (to - from).to_f / (closes - opens) : 0.0
      end

      # @return [Boolean] whether the person has hours of their own
      def own_week?(person) = @weeks.key?(person)

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
        return date if way == STAYS || working_day?(date)

        add_working_days(date, (way == LATER) ? 1 : -1)
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

      # @return [Date, nil] the last day of the absence that covers the day
      def absent_until(person, date) = @absences.fetch(person, []).find { |from, to| date.between?(from, to) }&.last

      # Whether others work that day, and the person has it off by their own week.
      def free?(person, date) = working_day?(date) && @weeks[person]&.key?(date.wday) == false
      private :absent_until, :free?

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
