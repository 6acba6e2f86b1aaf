# frozen_string_literal: true

require "openssl"
require "securerandom"

module Yenvo
  module Store
    # Tokens with which programs call the API: made, shown once, used, ended.
    class Tokens < Base
      include FormWords

      keeps :tokens

      # What a token lets do, where the person may do it too.
      SCOPES = {
        "read" => "look at records, tasks, rules and the trail", "work" => "work tasks",
        "records" => "make and change records", "rules" => "write and publish rules and kits",
        "set_up" => "change the set-up, but for people"
      }.freeze
      BEGINNING = "yenvo_"
      # Characters behind the beginning; 238 bits.
      LENGTH = 40
      MOST_DAYS = 731
      MOST_OF_ONE = 50
      PER_MINUTE = 300
      MOST_PER_MINUTE = 6_000
      # Its last use is noted to the minute.
      NOTED_EVERY = 60

      # @param given [Hash{String => Object}] name, scopes, expires_on (ISO day), per_minute
      # @param person [String] key of whose token it is
      # @return [String] the token, which nobody sees again
      # @raise [Refused]
      def make(given, person, cause:)
        secret = BEGINNING + SecureRandom.alphanumeric(LENGTH)
        row = read(given, cause.at)
        root.transaction do
          # Two who make one at once are counted one after the other.
          db[:people].where(key: person).for_update.first
          not_too_many!(person)
          table.insert(**row, digest: digest(secret), person:, made_by: cause.who, made_at: cause.at)
          words = "made the token “#{row[:name]}”#{whose(person, cause)}"
          changes = [
            {label: "may", before: nil, after: load(row[:scopes]).join(", ")},
            {label: "until", before: nil, after: given["expires_on"]}
          ]
          root.audit.note("tokens", words, who: cause.who, at: cause.at, changes:)
        end
        secret
      end

      # @param person [String, nil] only theirs
      # @return [Array<Hash>] rows, the newest first, without digests
      def all(person = nil)
        found = table.reverse(:id).limit(500)
        found = found.where(person:) if person
        found.all.map { |row| row.except(:digest).merge(scopes: load(row[:scopes])) }
      end

      # Ends a token at once.
      # @param person [String, nil] only when it is theirs
      # @raise [NotFound]
      def finish(id, cause:, person: nil)
        root.transaction do
          found = table.where(id:, ended_at: nil)
          found = found.where(person:) if person
          row = found.for_update.first || raise(NotFound, "There is no such token; it may have been ended already.")
          table.where(id:).update(ended_at: cause.at)
          root.audit.note("tokens", "ended the token “#{row[:name]}”", who: cause.who, at: cause.at)
        end
      end

      # @param text [String] as a program sends it
      # @return [Hash, nil] the row of a token that holds now
      def find(text, now:)
        return unless text.start_with?(BEGINNING) && text.size == BEGINNING.size + LENGTH

        row = table.where(digest: digest(text), ended_at: nil).where { expires_at > now }.first or return
        note_use(row, now)
        row.merge(scopes: load(row[:scopes]))
      end

      # A person without a sign-in, as which a program acts.
      # @param given [Hash{String => Object}] name, role
      # @return [String] key
      # @raise [Refused]
      def make_program(given, cause:)
        name = text(given["name"], "program", "The name of the program", 120)
        role = given["role"]
        refuse("role", "The role is one of #{People::ROLES.join(", ")}.") unless People::ROLES.include?(role)
        SetupChanges.new(root).program(name, role, cause:)
      end

      private

      def digest(text) = OpenSSL::Digest::SHA256.hexdigest(text)
      def alive = table.where(ended_at: nil)
      def whose(person, cause) = (person == cause.who) ? "" : " for #{schema.name_of(person)}"

      def not_too_many!(person)
        return if alive.where(person:).count < MOST_OF_ONE

        refuse("name", "There are #{MOST_OF_ONE} tokens already. End one first.")
      end

      def note_use(row, now)
        return if row[:used_at] && row[:used_at] > now - NOTED_EVERY

        table.where(id: row[:id]).update(used_at: now)
      end

      def read(given, now)
        scopes = Array(given["scopes"]).uniq
        strange = scopes - SCOPES.keys
        refuse("scopes", "A token has no scope #{Core::Show.quoted(strange[0])}.") if strange.any?
        refuse("scopes", "Choose what the token lets do.") if scopes.empty?
        {
          name: text(given["name"], "name", "The name of the token", 120), scopes: JSON.generate(scopes),
          expires_at: expiry(given["expires_on"], now), per_minute: per_minute(given["per_minute"])
        }
      end

      # The token holds to the end of that day.
      def expiry(text, now)
        day = Core::Reading::DATE.match?(text.to_s[0, 20]) ? Date.iso8601(text) : raise(Date::Error)
        today = calendar.date_of(now)
        unless day.between?(today, today + MOST_DAYS)
          refuse("expires_on", "A token ends on a day from today, at most two years ahead.")
        end
        calendar.zone.midnight(day + 1)
      rescue Date::Error
        refuse("expires_on", "Choose the last day on which the token holds.")
      end

      def per_minute(given)
        count = given.nil? ? PER_MINUTE : given
        return count if count.is_a?(Integer) && count.between?(1, MOST_PER_MINUTE)

        refuse("per_minute", "The calls a minute are a number from 1 to #{MOST_PER_MINUTE}.")
      end
    end
  end
end
