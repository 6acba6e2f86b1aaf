# frozen_string_literal: true

require "commonmarker"

module Yenvo
  module Core
    module Papers
      # A paper that is written in Yenvo: Markdown (CommonMark 0.31 with tables and struck words) with blanks, given out
      # as PDF. What stands in a blank is words, whatever it looks like; pictures and HTML are not taken.
      class Markdown
        # Quotes and lists within one another.
        MOST_DEPTH = 12
        MOST_COLUMNS = 12
        # Stands for a line break in what was filled in, which would end a row of a table.
        BREAK = "\u{E000}"
        NOT_TAKEN = {
          html: "HTML is not taken; write it in Markdown", inline_html: "HTML is not taken; write it in Markdown",
          image: "pictures are not taken; the logo stands in the letterhead"
        }.freeze
        private_constant :BREAK, :NOT_TAKEN

        attr_reader :blanks

        class << self
          # @param source [String]
          # @param kind [Schema::Kind] of the records it is filled in from
          # @return [Array(Markdown, nil), Array(nil, Array<String>)] the paper, or what is wrong with it
          def bind(source, kind, schema)
            return [nil, ["It has no words yet."]] if source.strip.empty?
            return [nil, ["It has more than #{Show.count(Blanks.most)} characters."]] if source.size > Blanks.most

            blanks = Blanks.new(source, kind, schema, guard: ->(words) { plain(words) })
            wrong = (blanks.wrong + strange(source)).uniq
            wrong.empty? ? [new(blanks), nil] : [nil, wrong]
          rescue Liquid::Error => error
            [nil, [Blanks.not_whole(error)]]
          end

          # @param filled [String] see #fill
          # @param letterhead [Letterhead]
          # @param page [String] one of Sheet::PAGES
          # @param title [String] of the document
          # @param at [Time] when it is made
          # @return [String] bytes of a PDF
          def print(filled, letterhead:, page:, title:, at:) =
            Sheet.new(letterhead:, page:, title:, at:).print(parse(filled))

          # @return [CommonMarker::Node]
          def parse(text) = CommonMarker.render_doc(text, :DEFAULT, %i[table strikethrough])

          # @param node [CommonMarker::Node] of words
          # @return [String] with the line breaks of what was filled in
          def words(node) = node.string_content.tr(BREAK, "\n")

          # @return [Array<String>] sentences for what is Markdown, but not taken
          def strange(text)
            found = []
            walk(parse(text)) do |node, depth|
              where = "in line #{node.sourcepos[:start_line]}: "
              found << "#{where}#{NOT_TAKEN[node.type]}" if NOT_TAKEN.key?(node.type)
              return ["#{where}lists and quotes stand too deep within one another"] if depth > 3 * MOST_DEPTH

              wide = node.type == :table && node.first.count > MOST_COLUMNS
              found << "#{where}a table has at most #{MOST_COLUMNS} columns" if wide
            end
            found
          end

          private

          # @return [String] words that Markdown shows as they stand
          def plain(words) =
            words.delete(BREAK).strip.gsub(/[!-\/:-@\[-`{-~]/) { |sign| "\\#{sign}" }.gsub(/\R/, BREAK)

          # By hand, since what is nested a thousandfold would go too deep.
          def walk(root)
            rest = [[root, 0]]
            while (node, depth = rest.pop)
              yield node, depth
              rest.concat(below(node, depth + 1))
            end
          end

          def below(node, depth) = node.map { |child| [child, depth] }.reverse
        end

        def initialize(blanks)
          @blanks = blanks
          freeze
        end

        # @return [Array<Need>]
        def needs = blanks.needs

        # @return [Array<String>] see Text#uses
        def uses = blanks.uses

        # @param facts [Facts]
        # @return [String] the Markdown it comes to
        # @raise [Error] with the place of the blank that cannot be filled in
        def fill(facts, rule_name:, today:)
          filled = blanks.fill(facts, rule_name:, today:)
          wrong = Markdown.strange(filled).first
          wrong ? raise(Error, "filled in, #{wrong}") : filled
        end
      end
    end
  end
end
