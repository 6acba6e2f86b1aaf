# frozen_string_literal: true

module Yenvo
  module Core
    # Rules that watch the same, so that an event finds those worth asking: under a value that they require of a field,
    # within that under one of another, and the rest in a row.
    class Shelf
      # So few rules are asked sooner than looked up.
      FEW = 4
      # So many values an event is looked up by at most.
      DEEPEST = 3

      # Rules whose trigger asks for values stand under these first, so that it need not be asked again.
      # @param rules [Array<CompiledRule>] all that watch the same
      # @return [Shelf]
      def self.of_trigger(rules)
        fields = rules.flat_map { |rule| rule.trigger.pins.keys }.uniq
        new(rules, first: fields)
      end

      # @param rules [Array<CompiledRule>]
      # @param used [Array<String>] fields under whose values they stand already
      # @param first [Array<String>] fields that have to come first
      def initialize(rules, used: [], first: [])
        @tables = []
        first.each { |field| rules = sort_in(field, rules, used) { |rule| rule.trigger.pins.key?(field) } }
        while rules.size > FEW && used.size < DEEPEST && (field = best(rules, used))
          rules = sort_in(field, rules, used)
        end
        @rest = rules.freeze
      end

      # @param image [Hash] after the event
      # @param found [Array<CompiledRule>] to which those are added that are worth asking
      def collect(image, found)
        @tables.each { |field, table| table[image[field]]&.collect(image, found) }
        found.concat(@rest)
      end

      private

      # @return [Array<CompiledRule>] those that do not stand under the field
      def sort_in(field, rules, used)
        under, others = rules.partition { |rule| rule.pins.key?(field) && (!block_given? || yield(rule)) }
        by_value = {}
        under.each { |rule| rule.pins[field].uniq.each { |value| (by_value[value] ||= []) << rule } }
        shelves = by_value.transform_values { |some| Shelf.new(some, used: [*used, field]) }
        @tables << [field, shelves] if shelves.any?
        others
      end

      # @return [String, nil] the field that parts the most rules into the smallest shelves
      def best(rules, used)
        counts = Hash.new { |all, field| all[field] = [0, {}] }
        rules.each do |rule|
          rule.pins.each do |field, values|
            next if used.include?(field)

            counts[field][0] += 1
            values.each { |value| counts[field][1][value] = true }
          end
        end
        field, (count, values) = counts.max_by { |name, (some, all)| [some - some.fdiv(all.size), name] }
        field if field && count > 1 && values.size > 1
      end
    end
  end
end
