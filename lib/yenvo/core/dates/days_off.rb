# frozen_string_literal: true

require "date"
require "holidays"

module Yenvo
  module Core
    # Days on which nobody works: public holidays of a region (from the holidays gem, by its region codes such as
    # "ie") and stretches typed in, such as a yard's winter rest.
    class DaysOff
      # One stretch of days off; both ends counted in. yearly: whether it comes again each year, before and after, by
      # month and day; where a year lacks the 29th of February, the 28th stands for it.
      Stretch =
        Value.define(:from, :to, :name, yearly: false) do
          # @param year [Integer]
          # @return [Array<Array(Date, Date)>] when it is, of all that touches the year
          def in_year(year)
            return [[from, to]] unless yearly

            (year - from.year - 1..year - from.year + 1).map { |by| [from >> (12 * by), to >> (12 * by)] }
          end
        end

      # @param region [String, nil]
      # @param stretches [Array<Stretch>]
      def initialize(region: nil, stretches: [])
        @region = region&.to_sym
        @stretches = stretches
        @by_year = {}
      end

      # @param date [Date]
      # @return [String, nil] why it is a day off
      def name(date) = (@by_year[date.year] ||= year(date.year))[date]

      private

      def year(number)
        first = Date.new(number, 1, 1)
        last = Date.new(number, 12, 31)
        public_holidays(first, last).merge(typed_in(first, last))
      end

      def public_holidays(first, last)
        return {} unless @region

        Holidays.between(first, last, @region, :observed).to_h { |day| [day[:date], day[:name]] }
      end

      def typed_in(first, last)
        @stretches.each_with_object({}) do |stretch, days|
          stretch.in_year(first.year).each do |from, to|
            ([from, first].max..[to, last].min).each { |day| days[day] = stretch.name }
          end
        end
      end
    end
  end
end
