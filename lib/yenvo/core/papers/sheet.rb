# frozen_string_literal: true

require "prawn"
require "prawn/table"

module Yenvo
  module Core
    module Papers
      # Sets Markdown as PDF on the paper of the house: letterhead on the first page, numbers on all. Nothing is
      # fetched, and no link is set that is no web address.
      class Sheet
        # Sizes of pages by name (ISO 216, and the letter of ANSI/ASME Y14.1).
        PAGES = {"a4" => "A4", "a5" => "A5", "letter" => "LETTER"}.freeze
        FONTS = {
          "Archivo" => %w[archivo archivo-bold archivo-italic archivo-bold-italic],
          # For letters that the first one has not.
          "DejaVu" => %w[dejavu dejavu-bold dejavu dejavu-bold],
          # The characters of GB 2312, Big5, JIS X 0208 and KS X 1001.
          "Han" => %w[noto-han] * 4, "Hangul" => %w[noto-hangul] * 4,
          "Mono" => %w[dejavu-mono] * 4
        }.transform_values do |files|
          paths = files.map { |file| File.join(__dir__, "fonts", "#{file}.ttf") }
          %i[normal bold italic bold_italic].zip(paths).to_h
        end.freeze
        FALLBACK = %w[DejaVu Han Hangul].freeze
        # Points, as all lengths here.
        SIZE = 10
        SMALL = 8.5
        HEADS = {1 => 20, 2 => 14, 3 => 12}.freeze
        MARGIN = [57, 57, 68, 57].freeze
        LOGO = [160, 54].freeze
        STEP = 16
        LINES = 60
        INK, SOFT, LINE = "10241D", "4C5F57", "C8D9CF"
        # How a word of each type looks.
        STYLES = {emph: :italic, strong: :bold, strikethrough: :strikethrough}
          .transform_values { |style| {styles: [style].freeze}.freeze }.freeze
        PLAIN = {styles: [].freeze}.freeze
        private_constant :FONTS, :FALLBACK, :SIZE, :SMALL, :HEADS, :MARGIN, :LOGO, :STEP, :INK, :SOFT, :LINE, :STYLES,
          :PLAIN

        # @param letterhead [Letterhead]
        # @param page [String] one of PAGES
        # @param title [String]
        # @param at [Time]
        def initialize(letterhead:, page:, title:, at:)
          @letterhead = letterhead
          info = {Title: title, Author: letterhead.name, Creator: "Yenvo", CreationDate: at}
          @pdf = Prawn::Document.new(page_size: PAGES.fetch(page), margin: MARGIN, info:)
          @pdf.font_families.update(FONTS)
          @pdf.fallback_fonts(FALLBACK)
          @pdf.font("Archivo", size: SIZE)
          @pdf.default_leading(3)
          @pdf.fill_color(INK)
          @pdf.stroke_color(LINE)
        end

        # @param tree [CommonMarker::Node]
        # @return [String] bytes
        def print(tree)
          head
          blocks(tree)
          number_pages
          @pdf.render
        end

        private

        def number_pages =
          @pdf.number_pages("<page> / <total>", at: [0, -24], align: :right, size: SMALL, color: SOFT)

        def head
          top = @pdf.cursor
          @pdf.image(StringIO.new(@letterhead.logo), at: [0, top], fit: LOGO) if @letterhead.logo
          half = @pdf.bounds.width / 2
          @pdf.bounding_box([half, top], width: half) do
            @pdf.text(@letterhead.name, style: :bold, align: :right)
            @letterhead.lines.each { |line| @pdf.text(line, size: SMALL, color: SOFT, align: :right, leading: 1) }
          end
          @pdf.move_cursor_to(top - LOGO[1]) if @letterhead.logo && @pdf.cursor > top - LOGO[1]
          rule(8, 22)
        end

        def rule(above, below)
          @pdf.move_down(above)
          @pdf.stroke_horizontal_rule
          @pdf.move_down(below)
        end

        def blocks(parent) = parent.each { |node| block(node) }

        def block(node)
          case node.type
          when :header then heading(node)
          when :paragraph then paragraph(node)
          when :list then list(node)
          when :blockquote then @pdf.indent(STEP) { blocks(node) }
          when :code_block then code(node)
          when :table then table(node)
          when :hrule then rule(6, 14)
          end
        end

        def heading(node)
          size = HEADS.fetch(node.header_level, SIZE)
          # Not alone at the foot of a page.
          @pdf.start_new_page if @pdf.cursor < size * 4
          @pdf.move_down(4)
          @pdf.formatted_text(inline(node, styles: [:bold]).map { |piece| piece.merge(size:) })
          @pdf.move_down(6)
        end

        def paragraph(node, below: SIZE)
          # Very long ones are set bit by bit, since what Prawn does for each line grows with all that follow.
          lines = inline(node).slice_after { |piece| piece[:text] == "\n" }
          lines.each_slice(LINES) { |some| @pdf.formatted_text(some.flatten) }
          @pdf.move_down(below)
        end

        def list(node)
          first = (node.list_type == :ordered_list) ? node.list_start : nil
          node.each_with_index do |item, i|
            @pdf.start_new_page if @pdf.cursor < SIZE * 2
            @pdf.float { @pdf.text(first ? "#{first + i}." : "•") }
            @pdf.indent(STEP) { item.each { |one| (one.type == :paragraph) ? paragraph(one, below: 3) : block(one) } }
          end
          @pdf.move_down(SIZE - 3)
        end

        def code(node)
          @pdf.font("Mono", size: SMALL) { @pdf.text(Markdown.words(node).gsub(" ", Prawn::Text::NBSP)) }
          @pdf.move_down(SIZE)
        end

        def table(node)
          rows = node.map { |row| row.map { |cell| cell_of(cell) } }
          sides = node.table_alignments
          @pdf.table(rows, width: @pdf.bounds.width, header: true, cell_style: CELL) do
            row(0).font_style = :bold
            sides.each_with_index { |side, i| column(i).align = side if side }
          end
          @pdf.move_down(SIZE + 4)
        end

        CELL = {borders: [:bottom], border_color: LINE, border_width: 0.5, padding: [4, 6], size: SIZE - 1}.freeze
        private_constant :CELL

        # A row never stands on two pages, so that what is in one cell has to fit one.
        def cell_of(cell)
          words = inline(cell).map { |piece| piece[:text] }.join
          (words.size > MOST_IN_CELL) ? "#{words[0, MOST_IN_CELL]}…" : words
        end
        MOST_IN_CELL = 1_000
        private_constant :MOST_IN_CELL

        # @return [Array<Hash>] pieces as Prawn sets them
        def inline(node, look = PLAIN) = node.flat_map { |one| piece(one, look) }

        def piece(node, look)
          case node.type
          when :text then [{text: Markdown.words(node), **look}]
          when :code then [{text: Markdown.words(node), font: "Mono", **look}]
          # A letter breaks its lines where its writer did.
          when :softbreak, :linebreak then [{text: "\n"}]
          when :link then inline(node, {**look, **link(node.url)})
          else inline(node, look.merge(STYLES.fetch(node.type, PLAIN)) { |_, old, new| old + new })
          end
        end

        def link(url) = Reading.web?(url) ? {link: url} : {}
      end
    end
  end
end
