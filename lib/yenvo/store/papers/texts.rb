# frozen_string_literal: true

module Yenvo
  module Store
    # Texts that several rules send: a subject and words with blanks.
    class Texts < Base
      include InVersions

      keeps :texts

      # @param seen [Integer, nil] epoch of the set-up on which a change rests
      def initialize(root, seen: nil)
        super(root)
        @seen = seen
      end

      def noun = "text"

      # @param given [Hash] kind, subject, text
      # @return [Array<Array(String, String)>] place in the form and what is wrong there
      def problems(given)
        kind = schema.subject(given["kind"].to_s) or return []
        %w[subject text].flat_map do |name|
          found = []
          Core::Text.bind(given[name].to_s, kind, schema, problems: found)
          found.map { |one| [name, one.text] }
        end
      end

      private

      def versions = db[:text_versions]

      def content(given, kind, _row)
        refuse("text", "A text takes some words.") if given["text"].to_s.strip.empty?
        subject = given["subject"].to_s.tr("\r\n", "  ").strip
        refuse("subject", "The subject takes at most 500 characters.") if subject.size > 500
        found = problems({**given, "kind" => kind})
        found.each { |place, sentence| refuse(place, "It #{sentence}.") }
        body = given["text"].to_s.gsub("\r\n", "\n")
        {subject:, body:, uses: dump(uses([subject, body], kind))}
      end

      def uses(templates, kind) = templates.flat_map { |one| bound(one, kind).uses }.uniq
      def bound(template, kind) = Core::Text.bind(template, schema.subject(kind), schema)
    end
  end
end
