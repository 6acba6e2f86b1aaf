# frozen_string_literal: true

require "date"

module Yenvo
  module Store
    # Reads what an administrator writes about a person.
    class PersonForm < Base
      include CalendarForm
      include FormWords

      MOST_ABSENCES = 60

      # @return [Hash] columns of the table people, and the keys of all teams
      # @raise [Refused]
      def read(given, _key)
        email = email(given["email"], "email")
        role = given["role"]
        refuse("role", "The role is one of #{People::ROLES.join(", ")}.") unless People::ROLES.include?(role)
        row = {name: text(given["name"], "name", "The name", 120), email:, role:, **teams(given)}
        row[:phone] = phone(given["phone"]) if given.key?("phone")
        row[:active] = given["active"] if given.key?("active")
        row[:hours] = percent(given["hours"]) if given.key?("hours")
        row[:week] = given["week"] && dump(hours(given["week"], "week")) if given.key?("week")
        row
      end

      # @return [Array<Array(Date, Date)>]
      # @raise [Refused]
      def self.absences(given)
        raise Refused.at("absences" => "At most #{MOST_ABSENCES} absences a person.") if given.to_a.size > MOST_ABSENCES

        given.to_a.map do |one|
          from, to = %w[from to].map { |name| day(one[name]) }
          if to < from
            raise Refused.at(
                    "absences" =>
                      "An absence ends on or after the day it begins; #{from.iso8601} to #{to.iso8601} does not."
                  )
          end
          if to - from > LONGEST
            raise Refused.at(
                    "absences" => "An absence has at most #{LONGEST} days; somebody who is away longer has left."
                  )
          end

          [from, to]
        rescue Date::Error
          raise Refused.at("absences" => "An absence has a first and a last day, such as 2026-12-03.")
        end
      end

      YEARS = (1900..2200)
      LONGEST = 3_660

      # @return [Date]
      # @raise [Date::Error]
      def self.day(text)
        date = Core::Reading::DATE.match?(text.to_s[0, 20]) ? Date.iso8601(text) : raise(Date::Error)
        if YEARS.cover?(date.year)
          date
        else
          raise(Refused.at("absences" => "An absence lies between 1900 and 2200; #{date.iso8601} does not."))
        end
      end
      private_class_method :day

      private

      # The team that work counts for is one of those that they are in.
      def teams(given)
        team = given["team"]
        all = [team, *given["teams"]].compact.uniq
        strange = all.find { |key| !schema.teams.key?(key) }
        refuse("team", "There is no team #{Core::Show.quoted(strange)}.") if strange
        {team: team || all.first, teams: all}
      end

      def percent(value)
        unless value.is_a?(Integer) && value.between?(1, 100)
          refuse("hours", "The hours are a whole number of percent of the full ones, from 1 to 100.")
        end
        value
      end
    end
  end
end
