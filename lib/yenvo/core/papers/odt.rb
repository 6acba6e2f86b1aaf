# frozen_string_literal: true

module Yenvo
  module Core
    module Papers
      # A document as ISO/IEC 26300 (OpenDocument, text) packs it.
      class Odt < Uploaded
        NAMES = {
          "text" => "urn:oasis:names:tc:opendocument:xmlns:text:1.0",
          "table" => "urn:oasis:names:tc:opendocument:xmlns:table:1.0",
          "draw" => "urn:oasis:names:tc:opendocument:xmlns:drawing:1.0",
          "script" => "urn:oasis:names:tc:opendocument:xmlns:script:1.0",
          "xlink" => "http://www.w3.org/1999/xlink"
        }.freeze
        PARAGRAPH = "self::text:p or self::text:h"
        WORDS = ".//text()"
        ROWS = "//table:table-row"
        CELL = "table-cell"
        BEGINS = /<text:[ph][ >\/]/
        LINE_BREAK = "<text:line-break/>"
        TYPE = "application/vnd.oasis.opendocument.text"
        RUNS = "//script:event-listener"
        OUTSIDE = "//*[@xlink:href[contains(., '://') or starts-with(., '//')]][not(self::text:a or self::draw:a)]"
        private_constant :LINE_BREAK, :TYPE, :RUNS, :OUTSIDE

        class << self
          # @return [String] what stands in a blank, as words of the document
          def plain(words) = Uploaded.escaped(words, LINE_BREAK)

          # @param node [Nokogiri::XML::Text]
          def write(node, words) = node.content = words

          private

          def template_parts(packed) = %w[content.xml styles.xml] & packed.parts.keys

          # @raise [Packed::NotTaken]
          def check(packed)
            unless packed.parts["mimetype"].to_s.strip == TYPE && packed.parts.key?("content.xml")
              raise Packed::NotTaken, "It is no ODT document as it is usually packed. Save it as ODT once more."
            end

            template_parts(packed).each { |name| check_part(packed.xml(name), name) }
          end

          def check_part(xml, name)
            raise Packed::NotTaken, Packed.runs(name) if xml.xpath(RUNS, NAMES).any?
            raise Packed::NotTaken, Packed.fetches(name) if xml.xpath(OUTSIDE, NAMES).any?
          end
        end
      end
    end
  end
end
