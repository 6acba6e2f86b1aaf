# frozen_string_literal: true

module Yenvo
  module Core
    # A document or table of an office program (ECMA-376, or ISO/IEC 26300) that somebody put somewhere, without the
    # words of a record that is erased, which may be spread over several pieces of a paragraph.
    class ErasedOffice
      # @return [String] XPath of elements anywhere below
      def self.any(*names) = ".//*[#{names.map { |name| "local-name()='#{name}'" }.join(" or ")}]"
      private_class_method :any

      # What holds pieces of one text: paragraphs, headings, cells.
      TEXTS = any("p", "h", "si", "is").freeze
      # Pieces, and what stands for a blank between them.
      PIECES = ".//text() | #{any("s", "tab", "br", "line-break", "cr")}".freeze
      OTHERS = "//text() | //@* | //comment()"
      MOST_PIECES = 1_000_000
      PARTS = /\.(?:xml|rels)\z/i
      private_constant :TEXTS, :PIECES, :OTHERS, :MOST_PIECES, :PARTS

      # @param words [ErasedWords]
      def initialize(words)
        @pattern = words.in_documents
      end

      # @param bytes [String]
      # @param at [Time] when it is packed anew
      # @return [String, nil] nil where nothing of it is in it
      # @raise [Papers::Packed::NotTaken] where it cannot be read
      def without(bytes, at:)
        packed = Papers::Packed.new(bytes, template: false)
        changed = cleared(packed)
        packed.with(changed, at:) if changed.any?
      end

      private

      # One after the other, since a part that is read takes many times the room of its bytes.
      # @return [Hash{String => String}] the parts in which anything was
      def cleared(packed)
        @left = MOST_PIECES
        packed.parts.keys.grep(PARTS).to_h { |name| [name, clear_xml(packed.xml(name))] }.compact
      end

      def clear_xml(xml) = (xml.to_xml if clear_part(xml))

      # All of it is looked through, whatever was found before.
      def clear_part(xml) =
        [*xml.xpath(TEXTS).map { |text| clear_pieces(text) }, *xml.xpath(OTHERS).map { |node| clear(node) }].any?

      def clear(node)
        text = node.content
        text.match?(@pattern) && node.content = text.gsub(@pattern, ErasedWords::GONE)
      end

      def clear_pieces(text)
        nodes = text.xpath(PIECES)
        count(nodes.size)
        pieces = nodes.map { |node| Piece.new(node) }
        found = spans(pieces.map(&:text).join)
        place_all(pieces)
        # From the last of them back, so that places stay right.
        found.reverse_each { |span| cut(pieces, span) }
        pieces.each(&:write) if found.any?
        found.any?
      end

      # A paragraph within a paragraph is looked through once for each.
      def count(pieces)
        @left -= pieces
        raise Papers::Packed::NotTaken, "Its paragraphs lie in one another beyond measure." if @left.negative?
      end

      def place_all(pieces) = pieces.inject(0) { |at, piece| piece.place(at) }

      # @return [Array<Range>] where it stands
      def spans(text) = text.to_enum(:scan, @pattern).map { Range.new(*Regexp.last_match.offset(0), true) }

      # What stands in its place is put into the first piece of it.
      def cut(pieces, span) =
        pieces.select { |piece| piece.in?(span) }.each_with_index do |piece, n|
          piece.cut(span, n.zero? ? ErasedWords::GONE : "")
        end

      # A piece of a text, and where it stands there.
      class Piece
        # @return [String]
        attr_reader :text

        # @param node [Nokogiri::XML::Node] text, or an element that stands for a blank
        def initialize(node)
          @node = node
          @text = node.text? ? node.content : +" "
        end

        # @param at [Integer]
        # @return [Integer] where the next one stands
        def place(at)
          @from = at
          @till = at + @text.size
        end

        def in?(span) = @from < span.end && @till > span.begin

        def cut(span, instead)
          @text[[span.begin - @from, 0].max...([span.end, @till].min - @from)] = instead
        end

        def write = @node.text? && @node.content = @text
      end
      private_constant :Piece
    end
  end
end
