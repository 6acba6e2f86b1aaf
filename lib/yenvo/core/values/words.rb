# frozen_string_literal: true

module Yenvo
  module Core
    # The words of texts, as they are looked for: in small letters, without accents, each by its beginning.
    module Words
      LONGEST = 32
      # Different words of one text that are indexed; what a field or note takes at most has fewer.
      MOST = 4_000
      # Words of a question that are looked at.
      ASKED = 8
      AROUND = 60
      private_constant :AROUND

      module_function

      # @param texts [Array<String, nil>]
      # @return [Array<String>] different words
      def of(*texts) = texts.compact.flat_map { |text| fold(text).scan(/[[:alnum:]]+/) }.map { |one| one[0, LONGEST] }.uniq.first(MOST)

      # @param text [String] a question
      # @return [Array<String>]
      def asked(text) = of(text).first(ASKED)

      # @param asked [Array<String>]
      # @return [Boolean] whether each of them begins a word of the texts
      def all_in?(asked, *texts)
        words = of(*texts)
        asked.all? { |one| words.any? { |word| word.start_with?(one) } }
      end

      # @param asked [Array<String>]
      # @return [Boolean] whether any of them begins a word of the text
      def any_in?(asked, text) = of(text).any? { |word| asked.any? { |one| word.start_with?(one) } }

      # @param asked [Array<String>]
      # @return [String] the place in a text at which the first of them stands, with what is around it, in one line
      def around(asked, text)
        line = Show.line(text)
        at = place(asked, line)
        from = [at - AROUND, 0].max
        cut = line[from, AROUND * 3]
        "#{"…" if from.positive?}#{cut.strip}#{"…" if from + cut.size < line.size}"
      end

      # Folding keeps the number of letters but for those that are taken apart, so the place is a good guess.
      def place(asked, line)
        folded = fold(line)
        asked.filter_map { |one| folded.index(/(?<![[:alnum:]])#{Regexp.escape(one)}/) }.min || 0
      end

      def fold(text) = text.unicode_normalize(:nfd).gsub(/\p{Mn}/, "").downcase
    end
  end
end
