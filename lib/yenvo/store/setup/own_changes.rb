# frozen_string_literal: true

module Yenvo
  module Store
    # What people change about themselves: their name, the zone in which they read moments, days away, and what they are
    # not told of. Days away are also entered by leads of a team of theirs.
    class OwnChanges < Base
      include CalendarForm
      include FormWords
      include Saving

      DAYS = %i[from_on to_on].freeze
      private_constant :DAYS

      # @param key [String] of the person
      # @param given [Hash{String => Object}] those that are to change: name, phone, zone (nil for the house's),
      #   absences, untold
      # @raise [Refused]
      def save_own(key, given, cause:)
        row = read(given)
        absences = PersonForm.absences(given["absences"]) if given.key?("absences")
        save(cause) do
          db[:people].where(key:).update(row) if row.any?
          write_anew(:absences, key, DAYS, absences) if absences
        end
      end

      # @param absences [Array<Hash>] from and to
      # @raise [Refused]
      def save_absences(key, absences, cause:)
        days = PersonForm.absences(absences)
        save(cause) { write_anew(:absences, key, DAYS, days) }
      end

      private

      def read(given)
        row = {}
        row[:name] = text(given["name"], "name", "Your name", 120) if given.key?("name")
        row[:phone] = phone(given["phone"]) if given.key?("phone")
        row[:zone] = given["zone"] && zone(given["zone"]) if given.key?("zone")
        row[:untold] = untold(given["untold"]) if given.key?("untold")
        row
      end

      def untold(given)
        strange = given - Notices::MAY_BE_UNTOLD.keys
        refuse("untold", "There is nothing called #{Core::Show.quoted(strange[0])} to be told of.") if strange.any?
        given.any? ? JSON.generate(given.uniq) : nil
      end
    end
  end
end
