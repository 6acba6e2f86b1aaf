# frozen_string_literal: true

module Yenvo
  module Core
    # What the texts of a rule would carry to where it is read by people who may not see it: that is never written, and
    # whoever writes the rule is told beforehand.
    module Carried
      module_function

      # @param rule [Rule] that can be bound
      # @param schema [Schema]
      # @return [Array<Hash>] notes
      def notes(rule, schema)
        return [] unless schema.veils?

        kind = schema.subject(rule.kind)
        found = texts(rule.to_h).flat_map { |text| Text.new(text, kind, schema).references }
        (kept(found) + hidden(found, schema)).uniq.map do |said|
          {"kind" => "kept", "text" => said, "branches" => [], "example" => []}
        end
      end

      def kept(references) =
        references.map(&:field).select(&:kept).map do |field|
          "#{field.label} is kept for leads and administrators, so texts say that, and not what it holds"
        end

      def hidden(references, schema)
        links = references.flat_map { |one| [*one.links, *(one.field if one.field.type == "link")] }
        links.select { |link| schema.subject(link.links_to)&.seen_by != "everyone" }.map do |link|
          "Not everybody sees what stands under #{link.label}, so texts leave it out where others would read it"
        end
      end

      # @param plain [Object]
      # @return [Array<String>] all texts with blanks in it
      def texts(plain)
        case plain
        when Hash then plain.each_value.flat_map { |one| texts(one) }
        when Array then plain.flat_map { |one| texts(one) }
        when String then plain.match?(/\{[{%]/) ? [plain] : []
        else []
        end
      end
    end
  end
end
