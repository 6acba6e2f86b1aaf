# frozen_string_literal: true

module Yenvo
  module Core
    # Which cases the branches of a rule take: branches that no case can hit, cases that no branch takes (gaps) and
    # cases that two branches take (overlaps), each with an example. Found by going through all cases that can be told
    # apart.
    class Coverage
      MOST_NOTES = 6
      TOO_MANY = {
        "kind" => "unknown",
        "text" => "There are too many cases to look for gaps and overlaps; dead branches are looked for one by one.",
        "branches" => [], "example" => []
      }.freeze

      # @return [Array<Problem>] what can never hold
      attr_reader :problems

      # @return [Array<Hash>] kind ("gap", "overlap" or "unknown"), text, branches (numbers from 1), example (label,
      #   shown)
      attr_reader :notes

      # @param rule [CompiledRule]
      def initialize(rule)
        @rule = rule
        @cells = Cells.new(rule)
        @met = 0
        @hit = Set.new
        @holds = Set.new
        @cases = {}
        @cells.countable?([rule.branches.size, 1].max) ? survey : alone
      end

      private

      # For rules with more cases than can be gone through: each branch alone with "only if".
      def alone
        @notes = [TOO_MANY]
        @problems =
          @rule.branches.each_with_index.filter_map do |branch, i|
            leaves = []
            [@rule.only_if, branch].each { |group| group.each_leaf { |leaf| leaves << leaf } }
            cells = Cells.new(@rule, leaves)
            next unless cells.countable?(@rule.branches.size)

            holds = false
            cells.each { |facts| holds ||= @rule.rows_for(facts) && @rule.row_holds?(i, facts) }
            unless holds
              Problem.at(
                ["branches", i, "if"], "must be able to hold; its conditions and those of “only if” exclude each other"
              )
            end
          end
      end

      def survey
        @cells.each { |facts, cell| look_at(facts, cell) }
        @problems =
          @met.zero? ? [Problem.at(["only_if"], "must be able to hold; together with the trigger it never does")] : dead
        @notes =
          @met.zero? ? [] : @cases.values.sort_by { |one| one[:branches] }.first(MOST_NOTES).map { |one| note(one) }
      end

      def look_at(facts, cell)
        rows = @rule.rows_for(facts) or return
        @met += 1
        @hit.merge(rows)
        taken = @rule.branches.each_index.select { |i| @rule.row_holds?(i, facts) }
        @holds.merge(taken)
        keep("gap", [], cell) if taken.empty? && !@rule.rule.otherwise && @rule.branches.any?
        keep("overlap", taken.first(2), cell) if taken.size > 1 && @rule.rule.branching == "first"
      end

      # One example of each sort is enough: the one with the fewest empty fields.
      def keep(kind, branches, cell)
        known = @cases[[kind, branches]]
        blanks = cell.count(&:nil?)
        @cases[[kind, branches]] = {kind:, branches:, cell:, blanks:} if known.nil? ||
          blanks < known[:blanks]
      end

      def dead
        (0...@rule.branches.size).filter_map do |i|
          next if @hit.include?(i)

          Problem.at(
            ["branches", i, "if"],
            (
              if @holds.include?(i)
                "must be able to match; earlier branches take every such case"
              else
                "must be able to hold; its conditions and those of “only if” exclude each other"
              end
            )
          )
        end
      end

      def note(one)
        rows = one[:branches].map { |i| i + 1 }
        example = @cells.example(one[:cell], paths(one[:branches]))
        words = example.map { |part| "#{part["label"]} #{part["shown"]}" }.join(", ")
        text =
          if one[:kind] == "gap"
            "No branch takes #{words.empty? ? "what is left" : words}"
          else
            "Branches #{rows.join(" and ")} both take #{words}; branch #{rows[0]} comes first"
          end
        {"kind" => one[:kind], "text" => text, "branches" => rows, "example" => example}
      end

      def paths(branches)
        (branches.empty? ? @rule.branches : @rule.branches.values_at(*branches)).flat_map do |branch|
          found = []
          branch.each_leaf { |leaf| found << leaf.reference.path << leaf.other&.path }
          found
        end.compact.uniq
      end
    end
  end
end
