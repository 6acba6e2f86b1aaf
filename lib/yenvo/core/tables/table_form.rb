# frozen_string_literal: true

require "csv"

module Yenvo
  module Core
    # How a table (RFC 4180 and its kin) is written. separator: a character; encoding: one of ENCODINGS; header: whether
    # the first row says what the columns are.
    TableForm =
      Value.define(:separator, :encoding, :header) do
        # @param bytes [String] the beginning of a file, without a byte order mark
        # @return [TableForm] as it seems to be written
        def self.guess(bytes)
          encoding = guess_encoding(bytes)
          text = decode(bytes, encoding)
          separator = guess_separator(text)
          new(separator:, encoding:, header: header?(text, separator))
        end

        # @param plain [Hash] separator, encoding and header
        # @return [TableForm]
        # @raise [Unreadable]
        def self.read(plain)
          separator, encoding = plain.values_at("separator", "encoding")
          raise Unreadable, "A table is parted by one of #{self::SEPARATORS.keys.join(" ")}." unless
            self::SEPARATORS.key?(separator)
          raise Unreadable, "A table is written as one of #{self::ENCODINGS.join(", ")}." unless
            self::ENCODINGS.include?(encoding)

          new(separator:, encoding:, header: plain["header"] != false)
        end

        # @return [String] UTF-8; what cannot be read stands as U+FFFD
        def self.decode(bytes, encoding) =
          bytes.dup.force_encoding(encoding).encode("UTF-8", invalid: :replace, undef: :replace, replace: "\uFFFD")
            .then { |text| (encoding == "UTF-8") ? text.scrub("\uFFFD") : text }

        class << self
          private

          # What is no UTF-8 was mostly written by an old program of Windows.
          def guess_encoding(bytes)
            # The last character may have been cut through.
            whole = bytes.byteslice(0, [bytes.bytesize - 4, 0].max)
            sound = whole.dup.force_encoding("UTF-8").scrub("") == whole.dup.force_encoding("UTF-8")
            sound ? "UTF-8" : "windows-1252"
          end

          # The one that stands as often in every line.
          def guess_separator(text)
            lines = text.gsub(/"(?:[^"]|"")*"/, "").lines.first(20).map(&:chomp).reject(&:empty?)
            self::SEPARATORS.keys.max_by { |one| evenness(lines.map { |line| line.count(one) }) }
          end

          def evenness(counts)
            least = counts.min.to_i
            return 0 if least.zero?

            (counts.uniq.size == 1) ? 1_000 + least : least
          end

          # A first row of names has no empty cell, no number, and nothing twice.
          def header?(text, separator)
            first, second = text.lines.first(2).map { |line| CSV.parse_line(line, col_sep: separator) }
            return false if first.nil? || first.any? { |cell| cell.nil? || cell.match?(/\A[-+]?[\d.,]+\z|@/) }

            first.uniq.size == first.size && first != second
          rescue CSV::MalformedCSVError
            true
          end
        end
      end

    TableForm::SEPARATORS = {"," => "comma", ";" => "semicolon", "\t" => "tab", "|" => "bar"}.freeze
    TableForm::ENCODINGS = %w[
      UTF-8 windows-1252 ISO-8859-1 ISO-8859-2 ISO-8859-15 windows-1250 windows-1251 windows-1253 windows-1254
    ].freeze
  end
end
