# frozen_string_literal: true

module Yenvo
  module Store
    # Addresses from which mail came back for good, until one of them writes, or somebody says that it works again.
    class Returned < Base
      keeps :returned

      MOST_SHOWN = 200

      # Marks the mail that came back, and warns about its address.
      # @param back [Core::LetterReturn]
      # @param delivery [Hash] row of the mail
      def mark(back, delivery, cause:)
        words = "#{back.address}: #{back.status} #{back.words}".strip[0, 500]
        root.outbox.came_back(delivery, words, now: cause.at)
        return unless back.for_good? && to?(delivery, back.address)

        row = {words:, delivery_id: delivery[:id], at: cause.at}
        table.on_duplicate_key_update(*row.keys).insert(address: back.address, **row)
      end

      # @param address [String]
      # @return [Boolean] whether there was such a warning
      def forget(address) = table.where(address: address.to_s.downcase).delete.positive?

      # @param addresses [Array<String>]
      # @return [Hash{String => Hash}] rows by address in small letters
      def of(addresses) = addresses.empty? ? {} : marked(addresses.map(&:downcase))

      # @return [Array<Hash>] rows, the newest first
      def all = table.reverse(:at).limit(MOST_SHOWN).all

      private

      def marked(addresses) = table.where(address: addresses).as_hash(:address)

      # A notice may name any address; only those that the mail went to are believed.
      def to?(delivery, address)
        went_to(load(delivery[:content])).include?(address)
      end

      def went_to(content) = content.values_at("to", "cc").compact.join(",").downcase.split(/[\s,<>]+/)
    end
  end
end
