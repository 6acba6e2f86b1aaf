# frozen_string_literal: true

module Yenvo
  module Core
    # Which mail could not be brought to which address, out of a notice of RFC 3464: a block of lines about the mail,
    # then one about each address, and beside them the mail itself or its headers.
    module LetterReturns
      MOST = 50

      module_function

      # @param mail [Mail::Message]
      # @return [Array<LetterReturn>] of what was given up; what is only late yet is left out
      def of(mail)
        status = mail.parts.find { |part| part.mime_type.to_s.casecmp?("message/delivery-status") } or return []
        id = message_id(mail)
        blocks(status).filter_map { |block| one(block, id) }.first(MOST)
      end

      def blocks(part) = part.body.decoded.scrub("?").gsub("\r\n", "\n").split(/\n{2,}/).map { |text| lines(text) }

      # @return [Hash{String => String}] by name in small letters; what is folded onto the next line belongs to it
      def lines(text) = text.gsub(/\n[ \t]+/, " ").each_line.to_h { |line| pair(line) }.transform_keys(&:downcase)
      def pair(line) = line.split(":", 2).map { |part| part.to_s.strip }

      def one(block, message_id)
        return unless block["action"].to_s.casecmp?("failed")

        address = block.values_at("original-recipient", "final-recipient").compact[0].to_s.split(";").last.to_s.strip
        words = block["diagnostic-code"].to_s.sub(/\A\w+;\s*/, "")
        status = block["status"].to_s[/[245]\.\d{1,3}\.\d{1,3}/] || "5.0.0"
        return if address.empty?

        LetterReturn.new(address: address.downcase[0, 190], status:, words: Show.line(words)[0, 300], message_id:)
      end

      def whole?(part) = part.mime_type.to_s.match?(%r{\A(?:message/rfc822|text/rfc822-headers)}i)

      def message_id(mail)
        whole = mail.parts.find { |part| whole?(part) }
        whole && whole.body.decoded.scrub("?")[/^Message-ID:\s*<([^<>\s]{1,500})>/i, 1]
      end
    end
  end
end
