# frozen_string_literal: true

module Yenvo
  module Core
    module Papers
      # A document as ECMA-376 (Office Open XML, WordprocessingML) packs it.
      class Docx < Uploaded
        NAMES = {"w" => "http://schemas.openxmlformats.org/wordprocessingml/2006/main"}.freeze
        PARAGRAPH = "self::w:p"
        WORDS = ".//w:t"
        ROWS = "//w:tr"
        CELL = "tc"
        BEGINS = /<w:p[ >\/]/
        LINE_BREAK = %(</w:t><w:br/><w:t xml:space="preserve">)
        MAIN = "application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"
        PARTS = %r{\Aword/(?:document|header\d*|footer\d*)\.xml\z}
        OUTSIDE = "//*[@TargetMode='External'][not(contains(@Type, '/hyperlink'))]"
        private_constant :LINE_BREAK, :MAIN, :PARTS, :OUTSIDE

        class << self
          # @return [String] what stands in a blank, as words of the document
          def plain(words) = Uploaded.escaped(words, LINE_BREAK)

          # @param node [Nokogiri::XML::Element] that holds words
          def write(node, words)
            node.content = words
            node["xml:space"] = "preserve"
          end

          private

          def template_parts(packed) = packed.parts.keys.grep(PARTS)

          # @raise [Packed::NotTaken]
          def check(packed)
            unless packed.parts["[Content_Types].xml"].to_s.include?(MAIN) && packed.parts.key?("word/document.xml")
              raise Packed::NotTaken, "It is no DOCX document as it is usually packed. Save it as DOCX once more."
            end

            packed.parts.keys.grep(/\.rels\z/).each do |name|
              raise Packed::NotTaken, Packed.fetches(name) if packed.xml(name).xpath(OUTSIDE).any?
            end
          end
        end
      end
    end
  end
end
