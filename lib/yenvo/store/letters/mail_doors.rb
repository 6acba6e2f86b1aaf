# frozen_string_literal: true

module Yenvo
  module Store
    # Addresses of the house to which people write, and what becomes of a mail to each.
    class MailDoors < Base
      include Sheets

      keeps :mail_doors

      MOST = 100
      MOST_BYTES = 50_000
      # What is kept of what it makes.
      PARTS = %w[contact make_contact text fixed].freeze

      def noun = "address"

      # Whether the house's own mails ask for answers to Yenvo: each then has an address of its own to answer to.
      # @return [Boolean]
      def answers? = root.setup_store.setting("mail_answers", false) == true

      # @param on [Boolean]
      def take_answers(on, cause:) = save(cause) { root.setup_store.set("mail_answers", on) }

      # @param addresses [Array<String>] in small letters
      # @return [Hash, nil] row of the one that is open, of the first
      def at(addresses)
        plain = addresses.map { |one| ReplyAddress.plain(one) }
        open_at(plain).min_by { |row| plain.index(row[:address]) }
      end

      # @return [String] its key
      # @raise [Refused]
      def make(name, kind, address, cause:)
        name = free_name(name, nil)
        type = makes(kind)
        key = fresh_key(name, MOST)
        at = free_address(address, nil)
        save(cause) do
          table.insert(
            key:, name:, address: at, kind: type.key, plain: dump(first(type)), written_by: cause.who,
            written_at: cause.at
          )
        end
        key
      end

      # @param given [Hash] name, address, open and what it makes; those that are to change
      # @raise [Refused, NotFound, Conflict]
      def write(key, given, cause:, seen: nil)
        row = find!(key)
        same!(row, seen)
        columns = columns(row, given).merge(written_by: cause.who, written_at: cause.at)
        refuse_problems(read({**row, **columns})[1]) if columns.fetch(:open, row[:open])
        set(row, columns, cause)
      end

      def retire(key, cause:) = set(find!(key), {retired_at: cause.at, open: false}, cause)

      # @raise [NotFound, Refused]
      def bring_back(key, cause:)
        row = away!(key)
        free_address(row[:address], row)
        super
      end

      # @param row [Hash]
      # @return [Array(Core::MailDoor, Array<Core::Problem>)] nil where the kind is gone
      def read(row)
        kind = schema.kind(row[:kind])
        return [nil, [Core::Problem.at(["kind"], "must be a list that is there; this one was taken away")]] unless kind

        Core::MailDoorReader.read(load(row[:plain]), kind, schema)
      end

      private

      def open_at(addresses) = table.where(address: addresses, retired_at: nil, open: true).all

      def columns(row, given)
        found = {}
        found[:name] = free_name(given["name"], row) if given.key?("name")
        found[:address] = free_address(given["address"], row) if given.key?("address")
        found[:open] = given["open"] == true if given.key?("open")
        found[:plain] = small(dump(load(row[:plain]).merge(given.slice(*PARTS))))
        found
      end

      def small(text) = (text.bytesize > MOST_BYTES) ? refuse("", "It says more than an address can take.") : text

      def free_address(given, row)
        address = given.to_s.strip.downcase
        good = Core::Reading::EMAIL.match?(address) && address.size <= 190 && !address[/\A[^@]+/].include?("+")
        refuse("address", "It takes an e-mail address such as help@example.org, without a +.") unless good
        refuse("address", "Mail to #{address} has its place already.") if others(row).where(address:).any?
        address
      end

      # What most make: a record that leads to the sender's contact.
      def first(type)
        person = schema.kind(Core::Form::PERSON)
        link = person && type.links.find { |field| field.leads_to?(person) && !field.worked_out? }
        {"contact" => link&.key, "make_contact" => !link.nil?, "text" => nil, "fixed" => {}}
      end
    end
  end
end
