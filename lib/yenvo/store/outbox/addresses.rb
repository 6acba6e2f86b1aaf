# frozen_string_literal: true

require "digest"
require "securerandom"
require "uri"

module Yenvo
  module Store
    # Where messages of rules go outside: boards, and programs that are told by web calls. Where exactly that is, and
    # the secrets with which calls are signed, leave the store only to be sent to.
    class Addresses < Base
      include FormWords
      include Saving

      keeps :addresses

      WAYS = %w[board call].freeze
      MOST = 100
      MOST_FIELDS = 60
      # As the open standard for webhooks writes secrets: https://www.standardwebhooks.com, 1.0.0.
      PREFIX = "whsec_"

      # @param seen [Integer, nil] epoch of the set-up on which a change rests
      def initialize(root, seen: nil)
        super(root)
        @seen = seen
      end

      # @return [Array<Hash>] rows without secrets, those taken away too; host: all that is said of where it is
      def all = table.order(:name).all.map { |row| plain(row) }

      # @return [Hash, nil] the whole row of one that is in use
      def in_use(key) = table.where(key:, retired_at: nil).first

      # @return [Hash{String => String}] names by destination
      def names = table.select_hash(:key, :name).transform_keys { |key| Core::Schema::Address.destination(key) }

      # @param key [String, nil] nil for a new one
      # @param given [Hash] name, way, url (blank for the same as before), fields, per_minute
      # @return [Array(String, String)] its key, and the secret of a new address for calls
      # @raise [Refused, NotFound]
      def write(key, given, cause:)
        made = nil
        # What is free is looked at behind the lock.
        save(cause, key && ["addresses", key]) { made = key ? change(key, given) : add(given) }
        made
      end

      # Makes another secret; calls are signed with the one before too, until that is dropped.
      # @return [String]
      def change_secret(key, cause:)
        new_secret.tap do |secret|
          root.transaction do
            # Of two at once the second takes the place of the first's, and neither is lost.
            row = table.where(key:, retired_at: nil).for_update.first || find!(key)
            refuse("secret", "Calls alone are signed.") if row[:way] != "call"
            table.where(key:).update(secret:, second_secret: row[:secret])
            root.audit.tell("setup", "made another secret for the address #{row[:name]}", cause, "address #{key}")
          end
        end
      end

      # Signs with the newest secret alone from now on.
      def drop_second(key, cause:)
        row = find!(key)
        root.transaction do
          table.where(key:).update(second_secret: nil)
          root.audit.tell("setup", "dropped the older secret of the address #{row[:name]}", cause, "address #{key}")
        end
      end

      # @raise [Refused] while rules lean on it (unless +anyway+)
      def retire(key, cause:, anyway: false)
        row = find!(key)
        taking_away("address", "the address #{row[:name]}", ["address #{key}"], anyway, cause) do
          save(cause) { table.where(key:).update(retired_at: cause.at) }
        end
      end

      # @raise [NotFound]
      def bring_back(key, cause:)
        table.where(key:).exclude(retired_at: nil).first || raise(NotFound, "No address #{key.inspect} was taken away.")
        save(cause) { table.where(key:).update(retired_at: nil) }
      end

      # Writes one message there, to see whether it arrives.
      # @return [Integer] number of the message
      def try(key, cause:)
        row = find!(key)
        text = "A sample from #{root.setup_store.house_name}, sent by #{schema.name_of(cause.who)}."
        content = {"to" => row[:name], "subject" => "A sample", "text" => text}
        content = {**content, "event" => sample(text, cause.at)} if row[:way] == "call"
        root.outbox.add(row[:way], Core::Schema::Address.destination(key), content, cause:)
      end

      private

      def change(key, given)
        table.where(key:).update(columns(given, find!(key)))
        [key, nil]
      end

      def add(given)
        refuse("name", "At most #{MOST} addresses.") if table.count >= MOST
        columns = columns(given, nil)
        secret = new_secret if columns[:way] == "call"
        key = free_key(columns[:name], table.select_map(:key))
        table.insert(key:, secret:, **columns)
        [key, secret]
      end

      def plain(row)
        row.slice(:key, :name, :way, :per_minute, :retired_at).merge(
          host: URI(row[:url]).host, fields: load(row[:fields]), second: !row[:second_secret].nil?
        )
      end

      def find!(key) = in_use(key.to_s) || raise(NotFound, "There is no address #{key.to_s[0, 60].inspect}.")

      def columns(given, row)
        way = row ? row[:way] : given["way"]
        refuse("way", "An address is a board or takes web calls.") unless WAYS.include?(way)
        {
          name: name(given["name"], row), way:, url: url(given["url"], row),
          per_minute: per_minute(given["per_minute"]),
          fields: dump((way == "call") ? fields(given["fields"] || {}) : {})
        }
      end

      def name(given, row)
        name = text(given, "name", "The name", 120)
        same = table.where(retired_at: nil).exclude(key: row && row[:key]).select_map(:name)
        refuse("name", "There is an address #{name} already.") if same.any? { |one| one.casecmp?(name) }
        name
      end

      def url(given, row)
        address = given.to_s.strip
        return row[:url] if row && address.empty?

        uri = URI.parse(address)
        good = uri.is_a?(URI::HTTP) && !uri.host.to_s.empty? && uri.userinfo.nil? && address.size <= 500
        good ? address : refuse("url", BAD)
      rescue URI::Error
        refuse("url", BAD)
      end
      BAD = "It takes a web address such as https://chat.example.org/rooms/yard, without a name or password in it."
      private_constant :BAD

      # @return [Hash{String => Array<String>}]
      def fields(given)
        given.to_h do |key, names|
          kind = schema.kind(key) || refuse("fields", "There is no kind of record #{Core::Show.quoted(key)}.")
          strange = names.find { |name| kind.field(name).nil? }
          refuse("fields", "A #{kind.noun} has no field #{Core::Show.quoted(strange)}.") if strange
          refuse("fields", "At most #{MOST_FIELDS} fields of a kind.") if names.size > MOST_FIELDS
          [key, names.uniq]
        end.reject { |_, names| names.empty? }
      end

      def new_secret = "#{PREFIX}#{SecureRandom.base64(32)}"

      def sample(text, at) =
        {
          "specversion" => "1.0", "type" => "yenvo.sample", "subject" => "sample", "time" => Core::Reading.moment(at),
          "datacontenttype" => "application/json", "data" => {"text" => text}
        }
    end
  end
end
