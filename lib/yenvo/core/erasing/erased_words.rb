# frozen_string_literal: true

require "cgi"

module Yenvo
  module Core
    # The words of a record that is erased, as they are looked for in what was written about others: its titles, mail
    # addresses, phones and texts. What reads like a name is taken out wherever it stands, in small or capital letters;
    # one common word, such as "Survey", only where nothing else stands, since it may mean anything.
    class ErasedWords
      # What stands in their place.
      GONE = "(erased)"
      MOST = 60
      LONGEST = 2_000
      PHONE_DIGITS = 6
      HEAD = 30
      private_constant :MOST, :LONGEST, :PHONE_DIGITS, :HEAD

      # @param texts [Array<String, nil>] those that matter most first
      def initialize(texts)
        plain = texts.compact.map(&:strip).uniq.reject { |text| text.empty? || text == GONE || text.size > LONGEST }
        phrases, single = plain.first(MOST).partition { |text| phrase?(text) }
        @single = single.to_set(&:downcase)
        @forms = phrases.flat_map { |text| [text, CGI.escapeHTML(text)] }.uniq.sort_by { |text| -text.size }
        @heads = plain.first(MOST).flat_map { |text| heads(text[0, HEAD]) }.uniq
        @pattern = pattern { |text| Regexp.escape(text) }
      end

      # @return [String, nil] a pattern, as PCRE and Ruby read it, that meets whatever holds any of it, also as JSON and
      #   HTML write it; nil where nothing is looked for
      def sieve = (@heads.map { |text| Regexp.escape(text) }.join("|") if @heads.any?)

      # @param text [String, nil]
      # @return [String, nil] the same object where nothing of it was in it
      def out_of(text)
        return text if text.nil?
        return GONE if @single.include?(text.strip.downcase)

        (@pattern && text.match?(@pattern)) ? text.gsub(@pattern, GONE) : text
      end

      # @param value [Object] plain, as JSON has them
      # @return [Object] the same with every text in it looked through, also the names of what is in it
      def out_of_all(value)
        case value
        when String then out_of(value)
        when Array then value.map { |one| out_of_all(one) }
        when Hash then value.to_h { |key, one| [out_of(key), out_of_all(one)] }
        else value
        end
      end

      # @return [Regexp, nil] meets its phrases in a document, whose lines may break between any two words, and where
      #   marks of a table or a card are doubled or escaped; nil where there are none
      def in_documents = @in_documents ||= joined(/\s+/, "\\s+") { |word| marked(word) }

      # @return [Regexp, nil] meets its phrases in what was read out of a printed page, where blanks are only guessed
      def in_print = @in_print ||= joined(/\s*/, "\\s*") { |letter| Regexp.escape(letter) }

      private

      # @yieldparam part [String] of a phrase
      def joined(apart, between, &) = pattern { |text| text.split(apart).map(&).join(between) }

      # @yieldparam text [String] a phrase
      # @yieldreturn [String] a pattern that meets it
      def pattern(&) =
        (/(?<![[:alnum:]])(?:#{@forms.map(&).join("|")})(?![[:alnum:]])/i if @forms.any?)

      # RFC 4180 doubles quotes; RFC 5545 and 6350 escape commas and semicolons.
      def marked(word) = Regexp.escape(word).gsub('"', '"{1,2}').gsub(/[,;]/) { |mark| "\\\\?#{mark}" }

      # How texts begin, since a pattern must not grow too large; as HTML and JSON write them, too.
      def heads(text) = [text, CGI.escapeHTML(text)].flat_map { |one| [one, JSON.generate(one)[1..-2]] }

      # A name of several words, a mail address, a phone, or letters with digits.
      def phrase?(text)
        words = text.scan(/[[:alnum:]]+/)
        words.size > 1 || text.include?("@") || text.scan(/\d/).size >= PHONE_DIGITS ||
          text.match?(/[[:alpha:]]\d|\d[[:alpha:]]/)
      end
    end
  end
end
