# frozen_string_literal: true

require "date"
require "tzinfo"

module Yenvo
  module Core
    # A time zone as people live in it: local dates and wall-clock times to moments in UTC and back.
    # Uses the IANA database as shipped in the tzinfo-data gem.
    class Zone
      BEFORE_ANY_GAP = 3 * 3600
      MOMENTS_KEPT = 5_000
      STRETCHES_KEPT = 8
      @known = {}

      # Zones are costly to look up and never change, so each is kept.
      # @param name [String] IANA name
      # @raise [Error] when there is no such zone
      def self.new(name) = @known[name] ||= super

      # @return [Array<String>] IANA names of all zones, without their aliases
      def self.names = @names ||= TZInfo::Timezone.all_data_zone_identifiers.sort.freeze

      attr_reader :name

      def initialize(name)
        @name = name
        @known_moments = {}
        @stretches = [].freeze
        @zone = TZInfo::Timezone.get(name)
      rescue TZInfo::InvalidTimezoneIdentifier
        raise Error, "There is no time zone #{name.inspect}; write an IANA name such as Europe/Dublin."
      end

      # @param time [Time]
      # @return [Time] the same moment, with the local offset
      def local(time) = time.getlocal(offset_at(time))

      # Most moments that are asked about one after another lie in the same day, so the last one is remembered.
      # @return [Date] the local day of a moment
      def date_of(time)
        from, till, day = @day
        return day if from && time >= from && time < till

        day = local(time).to_date
        @day = [midnight(day), midnight(day + 1), day].freeze
        day
      end

      # A wall-clock time that a spring change skips moves on by the gap; one that an autumn change doubles is the
      # first.
      # @param date [Date]
      # @param minutes [Integer] minutes of the wall clock since midnight
      # @return [Time] UTC
      def at(date, minutes)
        known = @known_moments[key = (date.jd * 1440) + minutes]
        return known if known

        @known_moments = {} if @known_moments.size > MOMENTS_KEPT
        @known_moments[key] = work_out(date, minutes).freeze
      end

      # @return [Time] the first moment of a local day, UTC
      def midnight(date) = at(date, 0)

      private

      EVER = [-(2**42), 2**42].freeze
      private_constant :EVER

      # Between two changes of the clock the offset is the same; moments that are asked about lie in few such stretches.
      def offset_at(time)
        seconds = time.to_i
        @stretches.each { |from, till, offset| return offset if seconds >= from && seconds < till }
        stretch = stretch_around(time)
        @stretches = [stretch, *@stretches.first(STRETCHES_KEPT - 1)].freeze
        stretch.last
      end

      # @return [Array<Integer>] first second, second after the last, offset
      def stretch_around(time)
        period = @zone.period_for(time)
        from, till =
          [period.start_transition, period.end_transition].zip(EVER)
            .map { |change, ever| change ? change.at.to_i : ever }
        [from, till, period.observed_utc_offset].freeze
      end

      def work_out(date, minutes)
        wall = Time.utc(date.year, date.month, date.day) + (minutes * 60)
        @zone.local_to_utc(wall, nil) { |periods| periods.max_by(&:observed_utc_offset) }
      rescue TZInfo::PeriodNotFound
        wall - @zone.period_for_local(wall - BEFORE_ANY_GAP, true) { |periods| periods.first }.observed_utc_offset
      end
    end
  end
end
