# frozen_string_literal: true

module Yenvo
  module Core
    # How far two versions of a rule are apart.
    class RuleChanges
      HOW_OFTEN = {
        "every_time" => "every time", "once_per_task" => "once per task", "once_per_record" => "once per record",
        "once_per_visit" => "once per visit", "once_in_days" => "at most once in some days"
      }.freeze
      PARTS = {
        "name" => :name, "record" => :kind, "run" => :timing, "branching" => :branching, "fuse" => :fuse,
        "every days" => :every_days
      }.freeze

      # @return [Integer] number of places (values, rows, actions) that differ
      def self.count(one, other) = differences(one.to_h, other.to_h)

      def self.differences(one, other)
        return 0 if one == other
        if one.is_a?(Hash) && other.is_a?(Hash)
          return (one.keys | other.keys).sum { |key| differences(one[key], other[key]) }
        end
        return 1 unless one.is_a?(Array) && other.is_a?(Array) && [*one, *other].all?(Hash)

        (0...[one.size, other.size].max).sum { |i| (one[i] && other[i]) ? differences(one[i], other[i]) : 1 }
      end
      private_class_method :differences

      # @param one [Rule] the earlier
      # @param other [Rule] the later
      # @return [Array<Hash>] what changed, in order: where ("Branch 2"), text ("now also asks: Country is Ireland")
      def self.words(one, other, schema) = new(one, other, schema).words

      def initialize(one, other, schema)
        @one = one
        @other = other
        @was, @wording = [one, other].map { |rule| Wording.new(schema.subject(rule.kind), schema) }
      end

      def words =
        [
          *of_parts, *of_conditions("Only if", @one.only_if, @other.only_if), *of_branches,
          *of_actions("Otherwise", @one.otherwise || [], @other.otherwise || [])
        ]

      private

      def line(where, text) = {"where" => where, "text" => text}

      def of_parts
        lines = PARTS.filter_map do |label, part|
          before, after = @one[part], @other[part]
          line("Rule", "#{label} was #{shown(before)}, is #{shown(after)}") unless before == after
        end
        unless @one.how_often == @other.how_often
          lines << line("Rule", "how often was #{HOW_OFTEN[@one.how_often]}, is #{HOW_OFTEN[@other.how_often]}")
        end
        unless @one.trigger == @other.trigger
          lines << line("When", "was #{@was.trigger(@one.trigger)}, is #{@wording.trigger(@other.trigger)}")
        end
        lines
      end

      def shown(value) = @wording.plain(value)&.tr("_", " ") || "nothing"

      def of_conditions(where, before, after)
        return [] if before == after
        unless before.mode == after.mode
          return [line(where, "was #{@was.condition(before)}, is #{@wording.condition(after)}")]
        end

        gone = (before.items - after.items).map { |item| line(where, "asks no more: #{@was.condition(item)}") }
        come = (after.items - before.items).map { |item| line(where, "asks now: #{@wording.condition(item)}") }
        (gone + come).empty? ? [line(where, "its conditions stand in another order")] : gone + come
      end

      # Branches that stayed the same are found first, wherever they stand; the others are taken in their order.
      def of_branches
        pairs = pair(@one.branches, @other.branches)
        all_there = pairs.flatten.none?(&:nil?)
        pairs.flat_map do |i, j|
          was, now = i && @one.branches[i], j && @other.branches[j]
          next [line("Branch #{i + 1}", "is gone: #{summary(was, @was)}")] unless now

          name = "Branch #{j + 1}"
          next [line(name, "is new: #{summary(now, @wording)}")] unless was

          moved = (i != j && all_there) ? [line(name, "was branch #{i + 1}")] : []
          [*moved, *of_conditions(name, was.conditions, now.conditions), *of_actions(name, was.actions, now.actions)]
        end
      end

      def summary(branch, wording) =
        "#{wording.condition(branch.conditions)} → " \
        "#{branch.actions.map { |action| wording.action(action) }.join("; ")}"

      # @return [Array<Array(Integer, Integer)>] places in both, nil where one has none
      def pair(before, after)
        left = before.each_index.to_a
        right = after.each_index.to_a
        same =
          left.filter_map { |i| (j = right.find { |place| after[place] == before[i] }) && right.delete(j) && [i, j] }
        left -= same.map(&:first)
        rest = (0...[left.size, right.size].max).map { |n| [left[n], right[n]] }
        (same + rest).sort_by { |i, j| [j || i, i || j] }
      end

      def of_actions(where, before, after)
        pair(before, after).flat_map do |i, j|
          next [line(where, "does no more: #{@was.action(before[i])}")] unless j
          next [line(where, "does now: #{@wording.action(after[j])}")] unless i
          next [] if before[i] == after[j]

          of_action(where, before[i], after[j])
        end
      end

      def of_action(where, before, after)
        unless before.instance_of?(after.class) && before.name == after.name
          return [line(where, "did: #{@was.action(before)}; does: #{@wording.action(after)}")]
        end

        one, other = before.to_h, after.to_h
        (one.keys | other.keys).reject { |key| one[key] == other[key] }.map do |key|
          line(where, "#{@wording.action(after)}: #{key.tr("_", " ")} was #{shown(one[key])}, is #{shown(other[key])}")
        end
      end
    end
  end
end
