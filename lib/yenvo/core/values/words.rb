# frozen_string_literal: true

module Yenvo
  module Core
    # The words of texts, as they are looked for: in small letters, without accents, each by its beginning.
    module Words
      LONGEST = 32
      # Different words of one text that are indexed; what a field or note takes at most has fewer.
      MOST = 4_000
      AROUND = 60
      private_constant :AROUND

      module_function

      # @param texts [Array<String, nil>]
      # @return [Array<String>] different words
      def of(*texts) = texts.compact.flat_map { |text| split(text) }.uniq.first(MOST)
      def split(text) = fold(text).scan(/[[:alnum:]]+/).map { |one| one[0, LONGEST] }

      # @param asked [Array<String>]
      # @return [Boolean] whether each of them begins a word of the texts
      def all_in?(asked, *texts)
        text = whole(texts)
        asked.all? { |one| begun?(one, text) }
      end

      # @param asked [Array<String>]
      # @return [Boolean] whether any of them begins a word of the text
      def any_in?(asked, text) = fold(text).then { |folded| asked.any? { |one| begun?(one, folded) } }

      def whole(texts) = fold(texts.compact.join(" "))

      # Looked for as it stands: to take all texts apart would take most of the time of a search.
      def begun?(word, text) = text.match?(beginning(word))
      def beginning(word) = /(?<![[:alnum:]])#{Regexp.escape(word)}/

      # @param asked [Array<String>]
      # @return [String] the place in a text at which the first of them stands, with what is around it, in one line
      def around(asked, text)
        line = Show.line(text)
        at = place(asked, line)
        from = begin_at(line, [at - AROUND, 0].max)
        cut = line[from, AROUND * 3]
        "#{"…" if from.positive?}#{cut.strip}#{"…" if from + cut.size < line.size}"
      end

      # Not within a word, if one begins soon.
      def begin_at(line, from) = from.zero? ? 0 : (line.index(/(?<=\s)/, from) || from)

      # Folding keeps the number of letters but for those that are taken apart, so the place is a good guess.
      def place(asked, line)
        folded = fold(line)
        asked.filter_map { |one| folded.index(beginning(one)) }.min || 0
      end

      def fold(text) = (text.ascii_only? ? text : plain(text)).downcase
      def plain(text) = text.unicode_normalize(:nfd).gsub(/\p{Mn}/, "")
    end
  end
end
