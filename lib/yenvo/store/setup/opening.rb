# frozen_string_literal: true

require "openssl"
require "securerandom"

module Yenvo
  module Store
    # Opens an empty house: its name, calendar and currency, what it can hold, and its first administrator. Once there
    # is anybody, nobody opens it again.
    class Opening < Base
      include CalendarForm
      include FormWords

      keeps :opening

      # Seconds for which a code is good.
      GOOD_FOR = 3_600
      # Characters of a code; with so many nobody guesses one, and after so many wrong ones it is worth nothing.
      LENGTH = 24
      MOST_TRIES = 50
      OPENED = "This house has been opened already. Sign in, or ask an administrator for an invitation."
      NO_CODE = "This code does not open the house: it is not right, was used, or is older than an hour. Start Yenvo " \
        "again, or call bin/yenvo code, for a new one."

      def open? = !db[:people].empty?

      # Makes a code; an older one is worth nothing from then on.
      # @return [String]
      # @raise [Conflict] when the house is open
      def new_code(now:)
        raise Conflict, OPENED if open?

        code = SecureRandom.alphanumeric(LENGTH)
        table.on_duplicate_key_update(:digest, :until_at, :tries)
          .insert(id: 1, digest: digest(code), until_at: now + GOOD_FOR, tries: 0)
        code
      end

      # Opens the house for who knows the code. A wrong one is counted, also when all else is refused.
      # @param given [Hash{String => Object}] see +open_house+
      # @raise [Refused, Conflict]
      def open_with(code, given, now:)
        raise Conflict, OPENED if open?

        known = table.where(id: 1).where(Sequel[:until_at] > now).where(Sequel[:tries] < MOST_TRIES).get(:digest)
        unless known && OpenSSL.fixed_length_secure_compare(known, digest(code))
          table.where(id: 1).update(tries: Sequel[:tries] + 1)
          refuse("code", NO_CODE)
        end
        open_house(given, now:)
      end

      # @param given [Hash{String => Object}] name, zone, hours (see CalendarForm), holidays, currency (ISO 4217),
      #   person (Hash with name, email, password)
      # @return [String] key of the first administrator
      # @raise [Refused, Conflict]
      def open_house(given, now:)
        settings = settings(given)
        currency = currency(given["currency"])
        person = person(given["person"] || {})
        root.transaction do
          # Whoever comes second waits here, and finds the house open.
          db[:book_turn].for_update.first
          raise Conflict, OPENED if db[:people].for_update.first

          settings.merge("currency" => currency.code).each { |name, value| root.setup_store.set(name, value) }
          HousePlan.new(root).write(HousePlan.file, currency: currency.symbol)
          add(person)
          table.delete
          root.audit.note("setup", "opened the house #{settings["name"]}", who: person[:key], at: now)
          root.setup_store.changed(who: person[:key], now:)
        end
        root.forget
        person[:key]
      end

      private

      def digest(code) = OpenSSL::Digest::SHA256.hexdigest(code.to_s)

      def settings(given)
        {
          "name" => text(given["name"], "name", "The name of the house", 80), "zone" => zone(given["zone"]),
          "hours" => hours(given["hours"]), "holidays" => holidays(given["holidays"])
        }
      end

      def person(given)
        name = text(given["name"], "person.name", "Your name", 120)
        email = email(given["email"], "person.email")
        wrong = Passwords.problem(given["password"], email:)
        refuse("person.password", wrong) if wrong
        {key: free_key(name, []), name:, email:, password: given["password"]}
      end

      def add(person)
        team = db[:teams].get(:key)
        db[:people].insert(**person.slice(:key, :name, :email), role: "administrator", team:)
        db[:memberships].insert(person: person[:key], team:)
        db[:accounts].insert(
          email: person[:email], password_hash: Passwords.kept(person[:password]), person: person[:key]
        )
      end
    end
  end
end
