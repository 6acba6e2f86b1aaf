# frozen_string_literal: true

require "vcardigan"

module Yenvo
  module Core
    # Contacts as programs give them out (vCard 3.0 and 4.0, RFC 6350), as rows of a table. A note such as "Berth: A12"
    # is a column of its own, as Yenvo gives out what no card has a place for.
    class CardRows
      BEGINS = /\A\s*BEGIN:VCARD/i
      ONE = /^BEGIN:VCARD\r?\n.*?^END:VCARD\s*$/mi
      NOTE = /\A([^:\n]{1,60}): (.*)\z/m
      # What a card says, and what its column is called; of two the second has one of its own.
      PLACES = {
        "fn" => ["Name"], "email" => ["E-mail", "E-mail 2"], "tel" => ["Phone", "Phone 2"], "url" => ["Web address"],
        "org" => ["Organization"], "title" => ["Position"], "bday" => ["Birthday"], "adr" => ["Postal address"]
      }.freeze
      MOST_COLUMNS = 100

      # @param text [String]
      # @return [Array(Array<String>, Array<Array<String, nil>>)] what the columns are called, and the rows
      def self.read(text)
        cards = text.scan(ONE).map { |card| one(card) }
        heads = cards.flat_map(&:keys).uniq.first(MOST_COLUMNS)
        [heads, cards.map { |card| card.values_at(*heads) }]
      end

      class << self
        private

        # @return [Hash{String => String}] what it says, by column
        def one(text)
          card = VCardigan.parse(text.gsub(/\r\n?/, "\n"))
          said = PLACES.flat_map { |name, columns| columns.zip(values(card, name)) }
          notes = values(card, "note").map { |note| note.match(NOTE)&.captures || ["Note", note] }
          (said + notes).reject { |_, value| value.to_s.empty? }.to_h
        rescue
          # A card that cannot be read is a row without a name, which is refused with its line.
          {"Name" => "", "Note" => text[0, 500]}
        end

        def values(card, name) = Array(card.public_send(name)).map { |property| plain(property) }

        # As RFC 6350, 3.4 writes several parts, and signs that would part them.
        def plain(property)
          parts = property.values.map { |part| part.to_s.gsub(/\\n/i, "\n").gsub(/\\([\\,;:])/, '\1').strip }
          parts.reject(&:empty?).join(", ").delete_prefix("tel:").delete_prefix("mailto:")
        end
      end
    end
  end
end
