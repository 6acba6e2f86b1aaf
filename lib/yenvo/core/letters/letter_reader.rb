# frozen_string_literal: true

require "mail"

module Yenvo
  module Core
    # Reads a message of RFC 5322 as mail servers hand it on. What is broken in it is passed over, as readers of mail
    # do; only what has no sender is not read at all.
    class LetterReader
      MOST_BYTES = 30_000_000
      MOST_REFERENCES = 50
      MOST_FILES = 20
      # Parts that hold others: taking them apart takes longer with each.
      MOST_PARTED = 200
      PARTED = /boundary\s*=/i
      # Headers by which servers say for whom a message is.
      RECIPIENTS = %w[To Cc Delivered-To X-Original-To Envelope-To].freeze
      private_constant :RECIPIENTS

      # @param bytes [String]
      # @return [Letter]
      # @raise [Unreadable] when nobody can tell from whom it is
      def self.read(bytes) = new(bytes).read

      def initialize(bytes)
        raise Unreadable, "It has more than #{MOST_BYTES / 1_000_000} MB." if bytes.bytesize > MOST_BYTES
        raise Unreadable, "It has more than #{MOST_PARTED} parts of parts." if bytes.b.scan(PARTED).size > MOST_PARTED

        @mail = ::Mail.read_from_string(bytes.b)
      end

      def read
        raise Unreadable, "It does not say from whom it is (RFC 5322, From)." unless sender

        sort = LetterSort.of(@mail)
        text, folded = words
        Letter.new(
          message_id: ids("Message-ID")[0], sender:, name:, to:, subject: line(@mail.subject), text:, folded:,
          references:, sort:, returns: (sort == "bounce") ? LetterReturns.of(@mail) : [], files:
        )
      end

      private

      # Addresses are taken out by form, since senders write what no grammar takes.
      ADDRESS = /[^\s<>,;:"()\[\]]+@[^\s<>,;:"()\[\]]+/
      ID = /<([^<>\s]{1,500})>/
      private_constant :ADDRESS, :ID

      def raw(name) = Array(@mail.header[name]).map { |field| plain(field.value) }.join(" ")
      def plain(text) = text.to_s.dup.force_encoding("UTF-8").scrub("?")
      def ids(name) = raw(name).scan(ID).flatten
      def addresses(name) = raw(name).scan(ADDRESS).map { |one| one.downcase[0, 190] }
      def line(text) = Show.line(plain(text))[0, 300]
      def sender = @sender ||= addresses("From")[0]
      def to = RECIPIENTS.flat_map { |name| addresses(name) }.uniq
      def references = (ids("In-Reply-To") + ids("References").reverse).uniq.first(MOST_REFERENCES)

      def name
        said = @mail.header["From"]&.then { |field| Array(field).first }
        shown = line(said.addrs.first&.display_name)
        shown.empty? ? nil : shown[0, 120]
      rescue ::Mail::Field::FieldError, NoMethodError
        nil
      end

      # @return [Array(String, String), Array(String, nil)]
      def words
        part = @mail.multipart? ? (@mail.text_part || @mail.html_part) : @mail
        return ["", nil] if part.nil? || !text?(part)

        text = plain(decoded(part))
        LetterText.split(part.sub_type.to_s.casecmp?("html") ? LetterText.of_html(text) : text)
      end

      def text?(part) = (part.main_type || "text").casecmp?("text")

      # As its charset says; of what is not known, what can be read of it.
      def decoded(part)
        part.decoded
      rescue ArgumentError, EncodingError, ::Mail::UnknownEncodingType
        part.body.raw_source
      end

      def files
        @mail.attachments.first(MOST_FILES).map { |part| [plain(part.filename), decoded(part).b] }
      end
    end
  end
end
