# frozen_string_literal: true

module Yenvo
  module Store
    # The versions in force in one epoch, compiled.
    class Rulebook
      attr_reader :matcher, :rules

      # @param rules [Array<Core::CompiledRule>] in the order of the rule list
      def initialize(rules)
        @rules = rules
        @matcher = Core::Matcher.new(rules)
        @links = rules.group_by { |rule| rule.kind.key }.transform_values { |all| all.flat_map { |rule| rule.links_to_match + rule.links_to_plan }.uniq }
      end

      # @return [Array<Array<String>>] chains of link fields that some rule of the kind looks at
      def links(kind) = @links.fetch(kind, [])
    end
  end
end
