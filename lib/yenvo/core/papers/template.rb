# frozen_string_literal: true

module Yenvo
  module Core
    module Papers
      # A part of an uploaded document as a text with blanks: its XML, of which nothing but what stands in blanks is
      # read as such. Each paragraph begins a line, so that a blank's line says in which paragraph it stands.
      class Template
        # Line of the first paragraph.
        FIRST = 2
        BLANK = /\{\{.*?\}\}|\{%.*?%\}/m
        ALONE = /\A(?:\s*\{%(?:(?!%\}).)*%\})+\s*\z/m
        BEGINS = /\{%-?\s*(?:if|unless|case|for|comment|raw)\b/
        ENDS = /\{%-?\s*end(?:if|unless|case|for|comment|raw)\b/
        # Where something was taken out, which no program writes.
        MARK = /\u{E000}(\d+)\u{E001}/
        # What programs make of what is typed within a blank.
        TYPED = {"“" => "\"", "”" => "\"", "„" => "\"", "‘" => "'", "’" => "'", "\u00A0" => " "}.freeze
        private_constant :BLANK, :ALONE, :BEGINS, :ENDS, :MARK, :TYPED

        # @return [Array<String>] sentences about loops and choices that end elsewhere
        attr_reader :wrong

        # @param xml [Nokogiri::XML::Document]
        # @param form [Class] of Uploaded
        def initialize(xml, form)
          @form = form
          @taken = []
          @wrong = []
          @root = xml.root
          @root.xpath("//comment() | //processing-instruction()").each(&:remove)
          paragraphs.each_with_index { |paragraph, i| blanks_whole(paragraph, i + 1) }
          @levels = Hash.new { |hash, key| hash[key] = 0 }
          lift
          @source = source
        end

        # @return [Blanks]
        # @raise [Liquid::Error]
        def blanks(kind, schema) = Blanks.new(@source, kind, schema, **OF_XML, guard: @form.method(:plain))
        OF_XML = {unit: "paragraph", first: FIRST, most_filled: Uploaded::MOST_FILLED}.freeze
        private_constant :OF_XML

        private

        def find(node, path) = node.xpath(path, @form::NAMES)
        def paragraphs(node = @root, axis = "descendant") = find(node, "#{axis}::*[#{@form::PARAGRAPH}]")

        # Programs cut a line into pieces wherever its look, or the spelling, changes. A blank has to stand in one.
        def blanks_whole(paragraph, number)
          nodes = find(paragraph, @form::WORDS).select { |node| paragraphs(node, "ancestor").last == paragraph }
          whole = nodes.map(&:text).join
          return unless whole.match?(BLANK)

          rewrite(nodes, whole)
          balanced!(whole, number) unless whole.match?(ALONE)
        end

        def balanced!(whole, number)
          @wrong << "in paragraph #{number}: #{NO_END}" if level(whole) != 0
        end
        NO_END = "what begins with {% does not end there; write its beginning and its end in paragraphs, or rows of " \
          "a table, of their own"
        private_constant :NO_END

        # @return [Integer] how many more begin than end
        def level(code) = code.scan(BEGINS).size - code.scan(ENDS).size

        # @param nodes [Array<Nokogiri::XML::Node>] that hold the words, in their order
        def rewrite(nodes, whole)
          so_far = 0
          ends = nodes.map { |node| so_far += node.text.size }
          now = Array.new(nodes.size) { +"" }
          at = place = 0
          whole.split(/(#{BLANK})/o).each do |piece|
            blank = piece.match?(BLANK)
            until piece.empty?
              at += 1 while ends[at] <= place
              part = piece.slice!(0, blank ? piece.size : ends[at] - place)
              now[at] << (blank ? take(part.gsub(/[“”„‘’\u00A0]/, TYPED)) : part)
              place += part.size
            end
          end
          nodes.zip(now) { |node, words| @form.write(node, words) }
        end

        # @return [String] a mark that stands for a blank
        def take(code)
          @taken << code
          "\u{E000}#{@taken.size - 1}\u{E001}"
        end

        # Rows and paragraphs that hold nothing but what begins or ends something make place for it.
        def lift
          find(@root, @form::ROWS).each { |row| lift_out(row) }
          paragraphs.each { |paragraph| lift_out(paragraph) unless only_one?(paragraph) }
          @levels.each_value.any? { |level| level != 0 } &&
            @wrong << "a loop or a choice ends elsewhere than it begins; write its beginning and its end side by side"
        end

        # A cell without any paragraph would not be whole.
        def only_one?(paragraph)
          cell = paragraph.parent
          cell.name == @form::CELL && paragraphs(cell, "child").size == 1
        end

        def lift_out(element)
          code = element.text.gsub(MARK) { @taken[Regexp.last_match(1).to_i] }
          return unless code.match?(ALONE)

          @levels[element.parent] += level(code)
          lines = "\n" * paragraphs(element, "descendant-or-self").size
          element.replace(@root.document.create_text_node(take(lines + code.strip)))
        end

        # Whatever else looks like a blank is none.
        def source
          xml = @root.to_xml(save_with: Nokogiri::XML::Node::SaveOptions::AS_XML)
          xml = xml.gsub("\n", "&#10;").gsub("{", "&#123;")
          xml = xml.gsub(@form::BEGINS) { |tag| "\n#{tag}" }
          xml.gsub(MARK) { @taken[Regexp.last_match(1).to_i] }
        end
      end
    end
  end
end
