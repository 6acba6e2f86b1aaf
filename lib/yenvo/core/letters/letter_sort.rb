# frozen_string_literal: true

module Yenvo
  module Core
    # Tells mails that people write from those that programs do: a notice that one could not be brought (RFC 3464), an
    # automatic answer or a mail to many (RFC 3834, RFC 2919), and one that goes round in a circle (RFC 5321, 6.3).
    module LetterSort
      MOST_HOPS = 50
      AUTOMATIC = %w[X-Autoreply X-Autorespond X-Auto-Response-Suppress List-Id List-Unsubscribe].freeze
      MANY = /\A\s*(?:bulk|list|junk|auto_reply)/i
      DAEMON = /(?:mailer-daemon|postmaster|no-?reply)@/i
      private_constant :AUTOMATIC, :MANY, :DAEMON

      module_function

      # @param mail [Mail::Message]
      # @return [String] "letter", "automatic", "bounce" or "loop"
      def of(mail)
        return "bounce" if report?(mail)
        return "loop" if Array(mail.header["Received"]).size > MOST_HOPS

        automatic?(mail) ? "automatic" : "letter"
      end

      def report?(mail) = same?(mail.mime_type, "multipart/report") && same?(kind(mail), "delivery-status")
      def kind(mail) = mail.content_type_parameters.to_h["report-type"]
      def same?(text, other) = text.to_s.casecmp?(other)

      def automatic?(mail)
        said = value(mail, "Auto-Submitted")
        return true if !said.empty? && !said.match?(/\A\s*no\b/i)

        AUTOMATIC.any? { |name| mail.header[name] } || value(mail, "Precedence").match?(MANY) ||
          value(mail, "Return-Path").strip == "<>" || value(mail, "From").match?(DAEMON)
      end

      # As it was written, since what the gem makes of an empty path is nothing.
      def value(mail, name) = plain(Array(mail.header[name]).first&.unparsed_value.to_s)
      def plain(text) = text.dup.force_encoding("UTF-8").scrub("?")
    end
  end
end
