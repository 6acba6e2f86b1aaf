# frozen_string_literal: true

module Yenvo
  module Store
    # Papers that are filled in from records, and the letterhead that stands on those written here.
    class Papers < Base
      include InVersions

      keeps :papers

      # How what is uploaded begins.
      PACKED = "PK\x03\x04".b
      MOST_LINES = 8

      # @param seen [Integer, nil] epoch of the set-up on which a change rests
      def initialize(root, seen: nil)
        super(root)
        @seen = seen
      end

      def noun = "paper"

      # @return [Core::Papers::Letterhead]
      def letterhead
        row = db[:letterhead].first || {}
        Core::Papers::Letterhead.new(
          name: root.setup_store.house_name, lines: load(row[:lines]) || [], logo: row[:logo]
        )
      end

      # @param lines [Array<String>] of the address
      # @param logo [String, nil] bytes; empty for none, nil for the same as before
      # @raise [Refused]
      def write_letterhead(lines, logo, cause:)
        lines = address(lines)
        problem = Core::Papers::Letterhead.logo_problem(logo) unless logo.to_s.empty?
        refuse("logo", problem) if problem
        save(cause) do
          kept = logo.nil? ? db[:letterhead].get(:logo) : logo
          columns = {lines: dump(lines), logo: (Sequel.blob(kept) unless kept.to_s.empty?)}
          db[:letterhead].on_duplicate_key_update(:lines, :logo).insert(id: 1, **columns)
        end
      end

      # What a paper comes to on a record as it stands now, printed as it would be.
      # @param given [Hash] kind, form, page, name, and text or bytes
      # @param record [Hash] row
      # @return [Array(Core::Papers::Given, String, Array<String>)] what it is given out as, its bytes, its paragraphs
      # @raise [Refused] with what is wrong with it
      def preview(given, record, now:)
        fits!(given["kind"], record)
        content = read(given, given["kind"], nil)
        paper, = Core::Papers.bind(*content.values_at(:form, :body), schema.kind!(record[:kind]), schema)
        filled = filled(paper, record, now)
        bytes = print(content, filled, title: given["name"].to_s, at: now)
        words = paper.is_a?(Core::Papers::Markdown) ? [] : paper.words(filled)
        [Core::Papers::GIVEN.fetch(content[:form]), bytes, words]
      end

      # @param version [Hash] form, page and body
      # @param filled [String, Hash] see Core::Papers
      # @return [String] bytes
      def print(version, filled, title:, at:)
        page = version[:page]
        return Core::Papers::Markdown.print(filled, letterhead:, page:, title:, at:) if version[:form] == "markdown"

        Core::Papers::Uploaded.print(version[:body], filled, at:)
      end

      private

      # @return [Array<String>]
      def address(lines)
        lines = lines.map { |line| Core::Reading.trim(line.to_s.gsub(/[\p{Cf}[:cntrl:]]/, "")) }.reject(&:empty?)
        refuse("lines", "The letterhead takes at most #{MOST_LINES} lines.") if lines.size > MOST_LINES
        refuse("lines", "A line takes at most 80 characters.") if lines.any? { |line| line.size > 80 }
        lines
      end

      def versions = db[:paper_versions]

      def fits!(kind, record)
        refuse("kind", OTHERS) unless [record[:kind], ANY].include?(kind)
      end
      ANY = Core::Schema::Subjects::RECORD
      OTHERS = "It is filled in from other records than this."
      private_constant :ANY, :OTHERS

      def filled(paper, record, now)
        facts = Filling.new(root, now).facts(record, paper.needs)
        paper.fill(facts, rule_name: "", today: calendar.date_of(now))
      rescue Core::Error => error
        refuse("text", "It cannot be filled in from this record, #{error.message.delete_suffix(".")}.")
      end

      def content(given, kind, row)
        read(given, kind, row).then { |content| {**content, body: Sequel.blob(content[:body])} }
      end

      def read(given, kind, row)
        page = given["page"] || "a4"
        known = Core::Papers::Sheet::PAGES.keys
        refuse("page", "A page is one of #{known.join(", ")}.") unless known.include?(page)
        form, body = written(given, row)
        paper, problems = Core::Papers.bind(form, body, schema.subject(kind), schema)
        refuse_all("text", problems.to_a)
        {form:, page:, body:, uses: dump(paper.uses)}
      end

      # @return [Array(String, String)] form and body; what was uploaded before stays where nothing else is
      def written(given, row)
        return ["markdown", given["text"].to_s.gsub("\r\n", "\n")] if given["form"] == "markdown"

        bytes = given["bytes"].to_s
        return kept(row, given["number"]) if bytes.empty?

        refuse("text", "It takes an ODT or a DOCX document.") unless bytes.start_with?(PACKED)

        [Core::Papers.form_of(bytes), bytes]
      rescue Core::Papers::Packed::NotTaken => error
        refuse("text", error.message)
      end

      def kept(row, number)
        version = row && version!(row[:key], number)
        return version.values_at(:form, :body) if version && version[:form] != "markdown"

        refuse("text", "Choose a document to upload.")
      end
    end
  end
end
