# frozen_string_literal: true

module Yenvo
  module Store
    # Reads what an administrator writes about a new list.
    class ListForm < Base
      include FormWords

      # @param given [Hash] label (of one entry), plural (name of the list), about (kind whose records can be put on it,
      #   or nil), sections
      # @return [Core::Schema::Kind]
      # @raise [Refused]
      def read(given)
        label = text(given["label"], "label", "What one entry is called")
        plural = text(given["plural"], "plural", "The name of the list")
        if schema.kinds.values.any? { |kind| kind.plural.casecmp?(plural) }
          refuse("plural", "There are #{plural} already; two of the same name could not be told apart.")
        end
        if schema.kinds.values.count(&:list) >= MOST[:lists]
          refuse("plural", "There are #{MOST[:lists]} lists already; that is all there can be.")
        end
        Core::Schema::Kind.new(
          key: "entry/#{free_key(plural, taken)}", label:, plural:, stage_label: "Section",
          stages: sections(given["sections"]), fields: about(given["about"])
        )
      end

      private

      def sections(given)
        found = read_choices(given, "sections", "Sections", MOST[:stages])
        refuse("sections", "A list needs at least one section.") if found.empty?
        found.map { |key, label| Core::Schema::Choice.new(key:, label:) }
      end

      # @return [Array<Core::Schema::Field>] the link to what stands on the list, if records are put on it
      def about(kind)
        return [] if kind.nil?

        fits = schema.kinds.values.reject(&:list).map(&:key).include?(kind)
        refuse("about", "Only contacts, deals and tickets can be put on a list.") unless fits
        [Core::Schema::Field.of(Core::Schema::Kind::ABOUT, schema.kind!(kind).label, "link", links_to: kind)]
      end

      # What stood on a list that was taken away may come back under its key.
      def taken = [*db[:kinds].select_map(:key).map { |known| known.delete_prefix("entry/") }, "tasks"]
    end
  end
end
