# frozen_string_literal: true

require "strscan"

module Yenvo
  module Web
    # Reads the JSON of a call (RFC 8259) within bounds of work, and says in a sentence what is not fit to be read.
    module Body
      # What a body says that cannot be taken.
      class Unfit < StandardError; end

      MAX_NESTING = 60
      # To read a number takes time that grows with the square of its digits.
      MAX_DIGITS = 30
      TEXT_OR_LONG_NUMBER = /"(?:[^"\\]++|\\.)*+"|\d[\d.]{#{MAX_DIGITS},}/mn

      module_function

      # @param text [String] bytes
      # @return [Object]
      # @raise [Unfit]
      def read(text)
        text = text.dup.force_encoding(Encoding::UTF_8)
        raise Unfit, "The body must be JSON in UTF-8." unless text.valid_encoding?
        if long_number?(text)
          raise Unfit, "The body holds a number of more than #{MAX_DIGITS} digits. Write a smaller one."
        end

        JSON.parse(text, max_nesting: MAX_NESTING).tap { |body| check(body) }
      rescue JSON::ParserError, EncodingError
        raise Unfit, "The body must be JSON in UTF-8."
      end

      def long_number?(text)
        scanner = StringScanner.new(text.b)
        while scanner.skip_until(TEXT_OR_LONG_NUMBER)
          return true unless scanner.matched.start_with?("\"")
        end
        false
      end

      # JSON has no bound for numbers, and its texts may hold characters that no database and no file name takes.
      def check(value)
        case value
        when Float
          raise Unfit, "The body holds a number beyond all bounds. Write a smaller one." unless value.finite?
        when String
          raise Unfit, "The body holds a text with a NUL character. Take it out." if value.include?("\0")
        when Array
          value.each { |item| check(item) }
        when Hash
          value.each { |key, item| check(key) || check(item) }
        end
        nil
      end
    end
  end
end
