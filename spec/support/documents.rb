# frozen_string_literal: true

require "pdf-reader"
require "zip"

# Documents to upload, made up by hand, and what is read back out of those given out.
module Documents
  WORD = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
  MAIN = "application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"
  OPEN = %w[office text table draw script].map { |name|
    urn = "urn:oasis:names:tc:opendocument:xmlns:#{(name == "draw") ? "drawing" : name}:1.0"
    %(xmlns:#{name}="#{urn}")
  }.push(%(xmlns:xlink="http://www.w3.org/1999/xlink")).join(" ")

  # @param pieces [Array<String>] XML of the runs' words
  def word_paragraph(*pieces) = "<w:p>#{pieces.map { |one| "<w:r><w:t>#{one}</w:t></w:r>" }.join}</w:p>"
  def word_row(*cells) = "<w:tr>#{cells.map { |one| "<w:tc>#{word_paragraph(one)}</w:tc>" }.join}</w:tr>"

  # @return [String] bytes
  def a_docx(*body, type: MAIN, **more)
    types = %(<Types><Override PartName="/word/document.xml" ContentType="#{type}"/></Types>)
    document = %(<?xml version="1.0"?>\n<w:document xmlns:w="#{WORD}"><w:body>#{body.join}</w:body></w:document>)
    pack({"[Content_Types].xml" => types, "word/document.xml" => document, **more.transform_keys(&:to_s)})
  end

  # @return [String] bytes
  def an_odt(*body, **more)
    root = "office:document-content"
    content = %(<?xml version="1.0"?>\n<#{root} #{OPEN}><office:body>#{body.join}</office:body></#{root}>)
    type = "application/vnd.oasis.opendocument.text"
    pack({"mimetype" => type, "content.xml" => content, **more.transform_keys(&:to_s)})
  end

  def pack(parts)
    packed =
      Zip::OutputStream.write_buffer do |out|
        parts.each { |name, bytes| out.put_next_entry(name) && out.write(bytes) }
      end
    packed.string
  end

  def unpack(bytes)
    zip = Zip::File.open_buffer(StringIO.new(bytes))
    zip.to_h { |one| [one.name, zip.read(one)] }
  end

  # @return [String] letters of a PDF, of all pages, without the blanks between, which a reader only guesses
  def words_of_pdf(bytes) = PDF::Reader.new(StringIO.new(bytes)).pages.map(&:text).join.gsub(/\s+/, "")
end

RSpec.configure { |config| config.include(Documents) }
