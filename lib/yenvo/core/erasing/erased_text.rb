# frozen_string_literal: true

module Yenvo
  module Core
    # A plain text, table, calendar or card that somebody put somewhere, without the words of a record that is erased.
    module ErasedText
      # Lines of calendars and cards are folded (RFC 5545, 3.1; RFC 6350, 3.2).
      VCARD = "text/vcard"
      FOLDED = ["text/calendar", VCARD].freeze
      FOLD = /\r?\n[ \t]/
      CARD = /^(?=BEGIN:VCARD\b)/i
      # The same name in its parts.
      PARTS = /^(N(?:;[^:\r\n]*)?:)[^\r\n]*/i
      private_constant :VCARD, :FOLDED, :FOLD, :CARD, :PARTS

      module_function

      # @param bytes [String] in UTF-8
      # @param type [String] media type
      # @param words [ErasedWords]
      # @return [String, nil] nil where nothing of it is in it
      def without(bytes, type, words)
        pattern = words.in_documents
        text = bytes.dup.force_encoding("UTF-8").scrub
        text = text.gsub(FOLD, "") if FOLDED.include?(type)
        return unless pattern && text.match?(pattern)

        text = text.split(CARD).map { |card| nameless(card, pattern) }.join if type == VCARD
        text.gsub(pattern, ErasedWords::GONE)
      end

      def nameless(card, pattern) =
        card.match?(pattern) ? card.gsub(PARTS, "\\1#{ErasedWords::GONE}") : card
    end
  end
end
