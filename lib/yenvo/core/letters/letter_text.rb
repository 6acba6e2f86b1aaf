# frozen_string_literal: true

require "email_reply_parser"
require "loofah"

module Yenvo
  module Core
    # The words of a mail: what was written, apart from what it quotes; and HTML as plain text.
    module LetterText
      # Characters in which quotes are looked for; a longer one is left as it is.
      MOST_PARTED = 20_000
      # Characters of HTML that are read.
      MOST_HTML = 2_000_000
      CUT = "\n\n(Cut here: the mail has %<size>s characters.)"
      # Characters of the line above a quote.
      MOST_HEAD = 300
      private_constant :CUT, :MOST_HEAD

      module_function

      # @param text [String]
      # @return [Array(String, String), Array(String, nil)] what was written, and what it quotes
      def split(text)
        plain = tidy(text)
        return [cut(plain), nil] if plain.size > MOST_PARTED

        parts = EmailReplyParser.read(plain).fragments
        written = parts.reject(&:hidden?).join("\n").rstrip
        rest = parts.select(&:hidden?).join("\n").strip
        return [plain, nil] if written.strip.empty?

        written, rest = headless(written, rest) if rest.start_with?(">")
        [written, rest.empty? ? nil : rest]
      end

      # @param html [String]
      # @return [String]
      def of_html(html)
        page = Loofah.fragment(html[0, MOST_HTML])
        page.css("script, style, head, title").each(&:remove)
        outer = page.css("blockquote").reject { |quote| quote.ancestors("blockquote").any? }
        outer.each { |quote| quote.replace(quoted(quote)) }
        tidy(page.to_text(encode_special_chars: false))
      end

      # As mails in plain text mark what they quote.
      def quoted(node)
        lines = node.text.strip.each_line.map { |line| "> #{line.strip}" }
        Nokogiri::XML::Node.new("pre", node.document).tap { |made| made.content = "\n\n#{lines.join("\n")}\n" }
      end

      # One kind of line end, no blanks at ends of lines, and never more than one empty line.
      def tidy(text) =
        text.gsub(/\r\n?/, "\n").delete("\u0000").gsub(/[^\S\n]+$/, "").gsub(/\n{3,}/, "\n\n").strip

      # The line above a quote says in any tongue who wrote it when, and ends in a colon.
      def headless(written, rest)
        above, _, head = written.rpartition("\n")
        return [written, rest] if above.strip.empty? || !head?(head)

        [above.rstrip, "#{head}\n#{rest}"]
      end

      def head?(line) = line.size <= MOST_HEAD && line.end_with?(":") && line.match?(/[@\d]/)

      def cut(text)
        (text.size > Reading::MAX_LONG_TEXT) ? said_cut(text, how_long(text)) : text
      end

      def how_long(text) = format(CUT, size: Show.count(text.size))

      def said_cut(text, said) = text[0, Reading::MAX_LONG_TEXT - said.size] + said
    end
  end
end
