# frozen_string_literal: true

require "tsort"

class Layout
  # A graph of names, its circles, and the arrows that close them.
  class Circles
    include TSort

    # @param arrows [Hash{String => Hash{String => Array<String>}}] from a name to the names that it uses, each with the
    #   places where it does
    def initialize(arrows)
      @arrows = arrows
    end

    # @return [Array<Array<String>>] names that lead to each other, the largest circle first
    def all = @all ||= strongly_connected_components.select { |names| names.size > 1 }.map(&:sort).sort_by { -_1.size }

    # @return [Array<String>] the largest circle, empty where there is none
    def largest = all.first || []

    # @param names [Array<String>]
    # @return [Integer] arrows among them
    def inside(names) = names.sum { |from| (targets(from) & names).size }

    # The arrows that have to be turned so that no circle is left: those that point back in an order that has few such.
    # Which order has the fewest is too long to find out; this one is as good as moving one name at a time makes it.
    # @param names [Array<String>] a circle
    # @return [Array<Array(String, String, Array<String>)>] from, to and places
    def closing(names) =
      improved(greedy(names)).each_with_index.with_object({}) { |(name, at), found| found[name] = at }.then do |at|
        names.flat_map do |from|
          (targets(from) & names).select { |to| at[to] > at[from] }.map { |to| [from, to, @arrows[from][to]] }
        end
      end

    private

    def tsort_each_node(&block) = @arrows.each_key(&block)
    def tsort_each_child(name, &block) = targets(name).each(&block)
    def targets(name) = @arrows.fetch(name, {}).keys

    # Who uses the fewest of those that are left, beside those that use it, comes first (Eades, Lin and Smyth 1993).
    # An arrow points from the user to the used, so the used come first.
    def greedy(names)
      left = names.dup
      Array.new(names.size) do
        left.delete(left.min_by { |name| weight(name, left) - left.sum { |other| weight(other, [name]) } })
      end
    end

    # Moves each name to where the fewest places point back, until nothing gets better.
    def improved(order)
      loop do
        better = order.find do |name|
          rest = order - [name]
          costs = (0..rest.size).map { |at| weight(name, rest[at..]) + rest[0...at].sum { |one| weight(one, [name]) } }
          now = costs[order.index(name)]
          costs.min < now && order.replace(rest.insert(costs.index(costs.min), name))
        end
        return order unless better
      end
    end

    def weight(from, others) = others.sum { |to| (to == from) ? 0 : @arrows.fetch(from, {}).fetch(to, []).size }
  end
end
