# frozen_string_literal: true

module Yenvo
  module Store
    # Reads what somebody writes about the working calendar: zone, hours of the week, public holidays.
    module CalendarForm
      DAYS = %w[Monday Tuesday Wednesday Thursday Friday Saturday Sunday].freeze

      include Refusing

      private

      # @return [String] IANA name
      def zone(given)
        Core::Zone.new(given.to_s[0, 80])
        given
      rescue Core::Error
        unknown("zone", "time zone", given, "choose one such as Europe/Dublin")
      end

      # @param code [String] of ISO 4217
      # @return [Core::Currencies::Currency]
      def currency(code) =
        Core::Currencies.find(code) || unknown("currency", "currency", code, "choose one such as EUR")

      # @param given [String, nil] key of a region
      def holidays(given)
        return if given.nil? || given == ""

        Core::HolidayRegions.known?(given) ||
          refuse("holidays", "Public holidays of #{Core::Show.quoted(given)} are not known; choose a region by name.")
        given
      end

      # @param given [Array<Hash>] day (1 for Monday to 7), from, to (such as "09:00"); days that are missing are off
      # @param place [String] of the form
      # @return [Hash{String => Array(Integer, Integer)}] minutes since midnight by day, as settings keep them
      def hours(given, place = "hours")
        rows = given.is_a?(Array) ? given : []
        found = rows.to_h { |row| [row["day"], span(row, place)] }
        refuse(place, "Each day of the week stands once.") if found.size < rows.size
        refuse(place, "The week needs at least one day on which somebody works.") if found.empty?
        found.sort.to_h { |day, span| [day.to_s, span] }
      end

      def span(row, place)
        day = row["day"].is_a?(Integer) && row["day"].between?(1, 7) && DAYS[row["day"] - 1]
        refuse(place, "A day of the week is a number from 1 (Monday) to 7 (Sunday).") unless day
        from, to = %w[from to].map { |name| Core::ClockTime.parse(row[name]) }
        refuse(place, "#{day} takes two times such as 09:00 and 17:30.") unless from && to
        refuse(place, "#{day} must end after it begins; #{row["from"]} to #{row["to"]} does not.") unless from < to
        [from, to]
      end
    end
  end
end
