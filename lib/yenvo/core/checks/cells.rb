# frozen_string_literal: true

require "date"
require "time"

module Yenvo
  module Core
    # Goes through all cases that a rule can tell apart: for each field that its conditions look at, one example of
    # every stretch of values between the edges they name, and "empty". What holds in no cell holds never.
    # The same compiled conditions as in a live run answer; there is no second evaluator.
    class Cells
      MAX_CELLS = 60_000
      # Cases times branches that are asked about each.
      MAX_WORK = 250_000
      OTHER = "\u0001some other"
      # Any moment will do: edges of tests against now are laid around it.
      SAMPLE = Time.utc(2026, 6, 17, 12)

      # One thing that can differ from case to case: side is :after or :before.
      Variable = Value.define(:reference, :side, :values)

      # @param rule [CompiledRule]
      # @param leaves [Array<BoundCondition>] conditions whose fields are varied
      def initialize(rule, leaves = rule.leaves)
        @rule = rule
        @variables = variables(leaves)
      end

      def count = @variables.map { |variable| variable.values.size }.inject(1, :*)
      # @param branches [Integer] how many of the rule are asked about each case
      def countable?(branches) = count <= MAX_CELLS && count * branches * @rule.trigger.all.size <= MAX_WORK

      # @param cell [Array] one case
      # @param paths [Array<String>] left sides that matter
      # @return [Array<Hash>] label and value of each, as people read them
      def example(cell, paths)
        @variables.zip(cell).select { |variable, _| variable.side == :after && paths.include?(variable.reference.path) }
          .map do |variable, value|
            {"label" => variable.reference.label, "shown" => shown(variable.reference.field, value)}
          end
      end

      # @yieldparam facts [Facts] one case that the trigger can meet
      # @yieldparam cell [Array] its values
      def each
        fires = @rule.trigger.all.map { |trigger| [trigger, filter(trigger)] }
        values = @variables.map(&:values)
        (values.shift || [nil]).product(*values) do |cell|
          fires.each do |trigger, meets|
            facts = facts(cell, trigger)
            yield facts, cell if facts && meets.call(facts)
          end
        end
      end

      # Values that stand for any two that are compared.
      def self.between(field)
        case field.type
        when "number", "money" then [0, 10]
        when "date" then %w[2026-01-10 2026-01-20]
        when "datetime" then %w[2026-01-10T00:00:00.000000Z 2026-01-20T00:00:00.000000Z]
        when "choice" then field.choices.map(&:key)
        when "person" then %w[one other]
        else field.textual? ? %w[one other] : []
        end
      end

      private

      def shown(field, value)
        return "any other" if value == OTHER || value == [OTHER] || (field.type == "link" && value == -1)

        Show.value(field, value.is_a?(Float) ? value.round(2) : value, @rule.schema)
      end

      # Where any change will do, or none is needed, every case can be met.
      def filter(trigger) =
        (trigger.watch_keys == [["any"]] || !trigger.before_save?) ? ->(_facts) { true } : trigger.to_proc

      def variables(leaves)
        watched = @rule.trigger.watch_keys.filter_map { |kind, key| key if kind == "field" }.uniq
        watched = watched.map { |key| reference(key) }
        edges = edges(leaves)
        now = leaves.reject { |leaf| leaf.operator.side == :before }
        now = now.flat_map(&:asked)
        earlier, after = [*now, *watched].uniq(&:path).partition { |side| side.is_a?(BeforeSide) }
        earlier = earlier.map { |side| reference(side.path.delete_prefix("before.")) }
        then_asked = leaves.reject { |leaf| leaf.operator.side == :after }.map(&:reference)
        before = [*then_asked, *watched, *earlier].uniq(&:path)
        before = [] if @rule.trigger.all.all? { |one| one.what == "record_made" }
        {after:, before:}.flat_map do |side, references|
          references.map { |one| Variable.new(reference: one, side:, values: domain(one.field, edges[one.path])) }
        end
      end

      def reference(path) = Reference.find(path, @rule.kind, @rule.schema).first

      def edges(leaves)
        found = Hash.new { |hash, path| hash[path] = [] }
        leaves.each do |leaf|
          edges = leaf.other ? Cells.between(leaf.reference.field) : spread(leaf)
          leaf.asked.each { |side| found[side.path.delete_prefix("before.")] |= edges }
        end
        @rule.rule.triggers.each do |settings|
          stages, field = settings.values_at("stages", "field")
          found["stage"] |= Array(stages) if stages
          found[field] |= [*settings["from"], *settings["to"]] if field
        end
        found
      end

      # A test against now looks at the day or moment that far away, and at now.
      def spread(leaf)
        edges = leaf.operator.edges(leaf.operand)
        return edges unless leaf.operand.is_a?(Span)

        calendar = @rule.schema.calendar
        today = calendar.date_of(SAMPLE)
        if leaf.reference.field.type == "date"
          return [today, leaf.operand.day(today, leaf.operator.sign, calendar)].map(&:iso8601)
        end

        [SAMPLE, leaf.operand.moment(SAMPLE, leaf.operator.sign, calendar)].map { |time| Reading.moment(time) }
      end

      def domain(field, edges)
        case field.type
        when "number", "money" then [nil, *stretch(edges.grep(Numeric).sort)]
        when "date" then [nil, *days(edges.sort)]
        when "datetime" then [nil, *moments(edges.sort)]
        when "yes_no" then [nil, true, false]
        when "choice" then [nil, *edges, (field.choices.map(&:key) - edges).first].uniq
        when "choices" then [nil, *edges.zip, edges, [OTHER]].uniq - [[]]
        when "link" then [nil, *edges, -1].uniq
        when "person" then [nil, *edges, OTHER].uniq
        else [nil, *texts(edges), OTHER].uniq - [""]
        end
      end

      # A text may hold several of the others, begin with any of them, and be written in capitals.
      def texts(edges)
        sets =
          (
            if edges.size <= 4
              (1..edges.size).flat_map { |n| edges.permutation(n).to_a }
            else
              [*edges.zip, *edges.permutation(2), edges]
            end
          )
        sets.map { |some| some.join(" ") }.flat_map { |text| [text, text.swapcase] }
      end

      def stretch(edges)
        return [0] if edges.empty?

        between = edges.each_cons(2).map { |low, high| (low + high) / 2.0 }
        [edges.first - 1, *edges, *between, edges.last + 1].uniq
      end

      def days(edges)
        return ["2026-01-01"] if edges.empty?

        edges.flat_map { |edge| [(Date.iso8601(edge) - 1).iso8601, edge, (Date.iso8601(edge) + 1).iso8601] }.uniq
      end

      def moments(edges)
        return ["2026-01-01T00:00:00.000000Z"] if edges.empty?

        edges.flat_map { |edge| [-1, 0, 1].map { |step| Reading.moment(Time.iso8601(edge) + step) } }.uniq
      end

      # @return [Facts, nil] nil for a case that cannot be, such as a value of a linked record without a link
      def facts(cell, trigger)
        images = {after: {}, before: {}}
        linked = {}
        outside, within = @variables.zip(cell).partition { |variable, _| given?(variable.reference) }
        own, further = within.partition { |variable, _| variable.reference.own? }
        given = outside.to_h { |variable, value| [variable.reference.path, value] }
        own.each { |variable, value| images[variable.side][variable.reference.field.key] = value }
        further.each do |variable, value|
          side = variable.reference
          return nil unless given.key?(side.path) || place(side, value, images[:after], linked)
        end
        images[:before] = {} if trigger.what == "record_made"
        about = {id: nil, what: trigger.what, kind: @rule.kind.key, record_id: 0, who: nil, at: SAMPLE}
        Facts.new(Event.new(**about, **images, detail: trigger.sample_detail), linked, given:)
      end

      # What is no field of a record as it is kept is said outright.
      def given?(side) = !side.is_a?(Reference) || side.field.worked_out?

      def place(reference, value, after, linked)
        image = after
        reference.links.each do |link|
          return value.nil? if image.key?(link.key) && image[link.key].nil?

          id = (image[link.key] ||= -2 - linked.size)
          image = (linked[id] ||= {"id" => id, "title" => "a #{link.label.downcase}"})
        end
        image[reference.field.key] = value
        true
      end
    end
  end
end
