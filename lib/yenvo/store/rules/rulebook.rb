# frozen_string_literal: true

module Yenvo
  module Store
    # The versions in force in one epoch, compiled: those that run after the save, and those that run before it.
    class Rulebook
      attr_reader :matcher, :rules

      # @param rules [Array<Core::CompiledRule>] in the order of the rule list
      def initialize(rules)
        @rules = rules
        early, late = rules.partition(&:before_save?)
        @matcher = Core::Matcher.new(late)
        @before = early.group_by { |rule| rule.kind.key }.transform_values { |all| Core::Matcher.new(all) }
        @needs = needs_by_kind(late)
        @needs_before = needs_by_kind(early)
      end

      # @return [Array<Core::Need>] what rules of the kind that run after the save look at
      def needs(kind) = @needs.fetch(kind, NONE)

      # @return [Boolean] whether any rule that runs after the save is about it
      def needs?(kind) = @needs.key?(kind)

      # @return [Core::Matcher, nil] the rules of the kind that run before the save; nil when there are none
      def before(kind) = @before[kind]

      # @return [Array<Core::Need>] what these look at
      def needs_before(kind) = @needs_before.fetch(kind, NONE)

      NONE = [].freeze
      private_constant :NONE

      private

      def needs_by_kind(rules) =
        rules.group_by { |rule| rule.kind.key }
          .transform_values { |all| all.flat_map { |rule| rule.needs_to_match + rule.needs_to_plan }.uniq }
    end
  end
end
