# frozen_string_literal: true

module Yenvo
  module Core
    # Documents with blanks that are filled in from a record: written here in Markdown and given out as PDF, or an
    # uploaded document that is given out as it came, with its blanks filled.
    module Papers
      # What a paper is given out as: ending of its name, and media type (RFC 6838).
      Given = Value.define(:ending, :type)

      GIVEN = {
        "markdown" => Given.new(ending: "pdf", type: "application/pdf"),
        "docx" => Given.new(
          ending: "docx", type: "application/vnd.openxmlformats-officedocument.wordprocessingml.document"
        ),
        "odt" => Given.new(ending: "odt", type: "application/vnd.oasis.opendocument.text")
      }.freeze
      FORMS = GIVEN.keys.freeze
      # Characters of a name of a file, without its ending.
      MOST_NAME = 120

      module_function

      # @param form [String] of FORMS
      # @param body [String] Markdown, or the bytes of a document
      # @param kind [Schema::Kind] of the records it is filled in from
      # @return [Array(Object, nil), Array(nil, Array<String>)] what can be filled in, or what is wrong with it
      def bind(form, body, kind, schema) =
        {"markdown" => Markdown, "docx" => Docx, "odt" => Odt}.fetch(form).bind(body, kind, schema)

      # @param bytes [String] of an uploaded document
      # @return [String] of FORMS
      # @raise [Packed::NotTaken]
      def form_of(bytes) = Packed.new(bytes).parts.key?("mimetype") ? "odt" : "docx"

      # @param words [String] filled in
      # @return [String] name of a file, with its ending
      def file_name(words, form)
        plain = Reading.trim(words.gsub(/[[:cntrl:]\p{Cf}]/, " ").tr("/\\", "--"))[0, MOST_NAME].strip
        "#{plain.empty? ? "Paper" : plain}.#{GIVEN.fetch(form).ending}"
      end
    end
  end
end
