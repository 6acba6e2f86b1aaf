# frozen_string_literal: true

module Yenvo
  module Core
    # All that stands between a draft and its publication, and what is worth knowing before it.
    module Checks
      module_function

      # @param rule [Rule]
      # @param schema [Schema]
      # @return [Array<Problem>] empty when the rule can be published
      def run(rule, schema) = look(rule, schema)[0]

      # @param rule [Rule]
      # @param schema [Schema]
      # @return [Array(Array<Problem>, Array<Hash>)] problems, and notes: gaps and overlaps (see Coverage), who has
      #   left, and what texts cannot carry (see Carried)
      def look(rule, schema)
        compiled, problems = CompiledRule.bind(rule, schema)
        problems = problems.dup
        problems.unshift(Problem.at(["name"], "must have words")) if rule.name.strip.empty?
        return [problems, []] unless compiled

        coverage = Coverage.new(compiled)
        [problems + coverage.problems, coverage.notes + left(rule, schema) + Carried.notes(rule, schema)]
      end

      # @return [Array<Hash>] notes about persons whom the rule names and who are not here any more
      def left(rule, schema)
        keys = Uses.of(rule, schema).filter_map { |use| use.delete_prefix("person ") if use.start_with?("person ") }
        gone = keys.filter_map { |key| schema.person(key) }.reject(&:active)
        gone.map do |person|
          {
            "kind" => "left", "text" => "#{person.name}, whom the rule names, has left", "branches" => [],
            "example" => []
          }
        end
      end

      # @param compiled [CompiledRule]
      # @return [Array<Problem>] branches that no event can ever hit
      def never_matching(compiled) = Coverage.new(compiled).problems
    end
  end
end
