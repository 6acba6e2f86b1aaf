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
      #   absences, told (kind to way)
      # @raise [Refused]
      def save_own(key, given, cause:)
        row = read(given)
        absences = PersonForm.absences(given["absences"]) if given.key?("absences")
        save(cause) do
          db[:people].where(key:).update(row) if row.any?
          write_anew(:absences, key, DAYS, absences) if absences
          daily(key, given["told"], cause) if given.key?("told")
        end
      end

      # Whoever got a mail wants no more such; in the bell it stands as before.
      # @param kind [String] of Telling::KINDS, or OwnMail::DAILY
      def stop_mail(key, kind, cause:)
        person = schema.person(key) or return
        kinds = (kind == OwnMail::DAILY) ? person.kinds_told("daily") : [kind]
        told = person.told.merge(kinds.to_h { |one| [one, "bell"] })
        # However often it is pressed: each change of the set-up is kept for good.
        return if kinds.all? { |one| person.told_by(one) == "bell" }

        save_own(key, {"told" => told.slice(*Core::Schema::Telling::KINDS.keys)}, cause:)
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
        row[:told] = told(given["told"]) if given.key?("told")
        row
      end

      def told(given)
        strange = given.find { |kind, way| !Core::Schema::Telling::KINDS.key?(kind) || !WAYS.include?(way) }
        refuse("told", "There is nothing called #{Core::Show.quoted(strange.join(" "))} to be told of.") if strange
        given.any? ? JSON.generate(given) : nil
      end
      WAYS = Core::Schema::Telling::WAYS
      private_constant :WAYS

      # The daily mail comes to whoever has chosen it for something.
      def daily(key, told, cause)
        chosen = told.value?("daily")
        row = db[:people].where(key:).first
        due = chosen ? root.own_mail.due(row, cause.at) : nil
        since = row[:daily_due_at] ? row[:daily_since] : cause.at
        db[:people].where(key:).update(daily_due_at: due, daily_since: chosen ? since : nil)
      end
    end
  end
end
