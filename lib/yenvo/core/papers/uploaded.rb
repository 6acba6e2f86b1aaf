# frozen_string_literal: true

require "cgi"

module Yenvo
  module Core
    module Papers
      # An uploaded document with blanks, which is given out as it came with its blanks filled. A loop or a choice
      # stands within one paragraph, or its beginning and its end stand in paragraphs, or rows of a table, of their own.
      class Uploaded
        MOST_FILLED = 4_000_000

        class << self
          # @param bytes [String]
          # @param kind [Schema::Kind] of the records it is filled in from
          # @return [Array(Uploaded, nil), Array(nil, Array<String>)] the paper, or what is wrong with it
          def bind(bytes, kind, schema)
            packed = Packed.new(bytes)
            check(packed)
            templates = template_parts(packed).to_h { |name| [name, new_template(packed.xml(name))] }
            wrong = templates.flat_map { |_, template| template.wrong }
            return [nil, wrong] if wrong.any?

            blanks = templates.transform_values { |template| template.blanks(kind, schema) }
            wrong = blanks.flat_map { |_, one| one.wrong }.uniq
            wrong.empty? ? [new(packed, blanks), nil] : [nil, wrong]
          rescue Packed::NotTaken => refused
            [nil, [refused.message]]
          rescue Liquid::Error => error
            [nil, [Blanks.not_whole(error, unit: "paragraph", first: Template::FIRST)]]
          end

          # @param bytes [String] of the document with blanks
          # @param filled [Hash] see #fill
          # @return [String] bytes of the document
          def print(bytes, filled, at:) = put_into(Packed.new(bytes), filled, at:)

          # @param packed [Packed]
          def put_into(packed, filled, at:) = packed.with(filled.transform_values { |xml| "#{DECLARED}#{xml}" }, at:)

          # @param words [String] what stands in a blank
          # @param line_break [String] XML of one
          # @return [String] XML
          def escaped(words, line_break) =
            CGI.escapeHTML(words.strip.gsub(/[^\P{Cntrl}\t\r\n]/, "")).gsub(/\R/, line_break)

          private

          def new_template(xml) = Template.new(xml, self)
        end

        # @param blanks [Hash{String => Blanks}] by name of the part
        def initialize(packed, blanks)
          @packed = packed
          @blanks = blanks
          freeze
        end

        # @return [Array<Need>]
        def needs = @blanks.each_value.flat_map(&:needs)

        # @return [Array<String>] see Text#uses
        def uses = @blanks.each_value.flat_map(&:uses).uniq

        # @return [Hash{String => String}] XML of the parts with blanks, filled in
        # @raise [Error] with the place of the blank that cannot be filled in
        def fill(facts, rule_name:, today:) =
          @blanks.to_h { |name, blanks| [name, whole(name, blanks.fill(facts, rule_name:, today:))] }

        # @param filled [Hash] see +fill+
        # @param at [Time]
        # @return [String] bytes of the document
        def print(filled, at:) = Uploaded.put_into(@packed, filled, at:)
        DECLARED = %(<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n)
        private_constant :DECLARED

        # @param filled [Hash] see +fill+
        # @return [Array<String>] its paragraphs as plain words
        def words(filled)
          filled.each_value.flat_map do |xml|
            Packed.xml(xml, "filled").xpath("//*[#{self.class::PARAGRAPH}]", self.class::NAMES).map do |paragraph|
              paragraph.xpath(self.class::WORDS, self.class::NAMES).map(&:text).join
            end
          end
        end

        private

        # Whatever came of it, no program is given what it cannot open.
        def whole(name, xml) = Packed.xml(xml, name) && xml
      end
    end
  end
end
