# frozen_string_literal: true

require "securerandom"

module Yenvo
  module Store
    # Doors by which programs come in: where they send, with what secret, and the table by which what they send becomes
    # fields.
    class ProgramDoors < Base
      include Sheets

      keeps :doors

      MOST = 200
      ADDRESS = 22
      MOST_BYTES = 200_000
      # What is kept of a table.
      PARTS = %w[how key rows types].freeze

      def noun = "door"

      # @param address [String]
      # @return [Hash] row of a door that is open
      # @raise [NotFound]
      def at!(address) =
        table.where(address: address.to_s, retired_at: nil, open: true).first ||
          raise(NotFound, "There is no open door at this address.")

      # @return [Array(String, String)] its key, and its secret, which is shown once
      # @raise [Refused]
      def make(name, kind, cause:)
        name = free_name(name, nil)
        type = makes(kind)
        key = fresh_key(name, MOST)
        secret = new_secret
        save(cause) do
          table.insert(
            key:, name:, kind: type.key, address: SecureRandom.alphanumeric(ADDRESS), secret:, map: dump(first),
            written_by: cause.who, written_at: cause.at
          )
        end
        [key, secret]
      end

      # @param given [Hash] name, map, per_minute, open and sample; those that are to change
      # @raise [Refused, NotFound, Conflict]
      def write(key, given, cause:, seen: nil)
        row = find!(key)
        same!(row, seen)
        columns = columns(row, given).merge(written_by: cause.who, written_at: cause.at)
        check(row, columns) if columns.fetch(:open, row[:open])
        set(row, columns, cause)
      end

      # @return [String] another secret, in place of the one that was
      def renew(key, cause:)
        new_secret.tap { |secret| set(find!(key), {secret:}, cause) }
      end

      def retire(key, cause:) = set(find!(key), {retired_at: cause.at, open: false}, cause)

      # Keeps what a message looks like.
      def remember(row, message) = table.where(key: row[:key]).update(sample: dump(message))

      # @param row [Hash]
      # @param plain [Hash, nil] the table; nil for the one that is kept
      # @return [Array(Core::DoorMap, Array<Core::Problem>)] nil where the kind is gone
      def read(row, plain = nil)
        kind = schema.kind(row[:kind])
        return [nil, [Core::Problem.at(["kind"], "must be a list that is there; this one was taken away")]] unless kind

        Core::DoorMapReader.read(plain || load(row[:map]), kind, schema)
      end

      private

      def new_secret = "#{Addresses::PREFIX}#{[SecureRandom.bytes(32)].pack("m0")}"
      def first = {"how" => "make", "rows" => [], "types" => []}

      def columns(row, given)
        found = {}
        found[:name] = free_name(given["name"], row) if given.key?("name")
        found[:map] = small(dump(given["map"].slice(*PARTS))) if given.key?("map")
        found[:sample] = given["sample"] && small(dump(given["sample"])) if given.key?("sample")
        found[:per_minute] = per_minute(given["per_minute"]) if given.key?("per_minute")
        found[:open] = given["open"] == true if given.key?("open")
        found
      end

      def small(text) = (text.bytesize > MOST_BYTES) ? refuse("", "It says more than a door can take.") : text

      def check(row, columns)
        refuse_problems(read(row, load(columns.fetch(:map, row[:map])))[1])
      end
    end
  end
end
