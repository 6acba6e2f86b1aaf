# frozen_string_literal: true

module Yenvo
  module Core
    # All that stands between a draft and its publication.
    module Checks
      module_function

      # @param rule [Rule]
      # @param schema [Schema]
      # @return [Array<Problem>] empty when the rule can be published
      def run(rule, schema)
        compiled, problems = CompiledRule.bind(rule, schema)
        problems = problems.dup
        problems.unshift(Problem.at(["name"], "must have words")) if rule.name.strip.empty?
        problems.concat(never_matching(compiled)) if compiled
        problems
      end

      # @param compiled [CompiledRule]
      # @return [Array<Problem>] branches that no event can ever hit
      def never_matching(compiled)
        cells = Cells.new(compiled)
        return contradictions(compiled) unless cells.countable?

        seen = survey(compiled, cells)
        return [Problem.at(["only_if"], "must be able to hold; together with the trigger it never does")] if seen[:met].zero?

        (0...compiled.branches.size).filter_map do |i|
          next if seen[:hit].include?(i)

          Problem.at(["branches", i, "if"], seen[:holds].include?(i) ? "must be able to match; earlier branches take every such case" : "must be able to hold; its conditions and those of “only if” exclude each other")
        end
      end

      def survey(compiled, cells)
        seen = {met: 0, hit: Set.new, holds: Set.new}
        cells.each do |facts|
          rows = compiled.rows_for(facts) or next
          seen[:met] += 1
          seen[:hit].merge(rows)
          compiled.branches.each_index { |i| seen[:holds] << i if !seen[:holds].include?(i) && compiled.row_holds?(i, facts) }
        end
        seen
      end

      # For rules with more cases than can be gone through: each branch alone with "only if".
      def contradictions(compiled)
        compiled.branches.each_with_index.filter_map do |branch, i|
          leaves = []
          [compiled.only_if, branch].each { |group| group.each_leaf { |leaf| leaves << leaf } }
          cells = Cells.new(compiled, leaves)
          next unless cells.countable?

          holds = false
          cells.each { |facts| holds ||= compiled.rows_for(facts) && compiled.row_holds?(i, facts) }
          Problem.at(["branches", i, "if"], "must be able to hold; its conditions and those of “only if” exclude each other") unless holds
        end
      end
    end
  end
end
