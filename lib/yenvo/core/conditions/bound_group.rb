# frozen_string_literal: true

module Yenvo
  module Core
    # A group tied to the schema; the same two forms as a BoundCondition.
    class BoundGroup
      attr_reader :mode, :items

      # @return [BoundGroup] without the items that have problems
      def self.bind(group, kind, schema, path: [], problems: [])
        items = group.items.each_with_index.filter_map do |item, index|
          type = item.is_a?(Group) ? BoundGroup : BoundCondition
          type.bind(item, kind, schema, path: [*path, group.mode, index], problems:)
        end
        new(group.mode, items)
      end

      def initialize(mode, items)
        @mode = mode
        @items = items.freeze
        freeze
      end

      # @return [Proc] the fast form, the cheapest items first; the commonest sizes get a closure of their own
      def to_proc
        tests = items.each_with_index.sort_by { |item, index| [item.cost, index] }.map { |item, _| item.to_proc }
        case mode
        when "all" then all_of(*tests)
        when "any" then any_of(*tests)
        when "none" then ->(facts) { tests.none? { |test| test.call(facts) } }
        end
      end

      # @return [Integer] see BoundCondition#cost
      def cost = items.sum(&:cost) + 1

      # @return [TestResult] the explaining form; every item is asked, so that all values are seen
      def explain(facts)
        results = items.map { |item| item.explain(facts) }
        met = results.map(&:met)
        holds = case mode
        when "all" then met.all?
        when "any" then met.any?
        when "none" then met.none?
        end
        TestResult.group(holds, mode, results)
      end

      # @return [Hash{String => Array}] own fields and the values to one of which each is pinned when this holds
      def pins
        return {} unless mode == "all"

        items.each_with_object({}) do |item, found|
          pins = item.is_a?(BoundGroup) ? item.pins : [item.pin].compact.to_h
          pins.each { |key, values| found[key] = found[key] ? found[key] & values : values }
        end
      end

      # @return [Array<Need>] what has to be loaded before it can be asked
      def needs = items.flat_map(&:needs)

      def each_leaf(&block) = items.each { |item| item.each_leaf(&block) }

      private

      def all_of(first = nil, second = nil, third = nil, *rest)
        return ->(_facts) { true } unless first
        return first unless second
        return ->(facts) { first.call(facts) && second.call(facts) } unless third
        return ->(facts) { first.call(facts) && second.call(facts) && third.call(facts) } if rest.empty?

        others = all_of(third, *rest)
        ->(facts) { first.call(facts) && second.call(facts) && others.call(facts) }
      end

      def any_of(first = nil, second = nil, *rest)
        return ->(_facts) { false } unless first
        return first unless second
        return ->(facts) { first.call(facts) || second.call(facts) } if rest.empty?

        others = any_of(second, *rest)
        ->(facts) { first.call(facts) || others.call(facts) }
      end
    end
  end
end
