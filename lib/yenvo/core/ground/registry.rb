# frozen_string_literal: true

module Yenvo
  module Core
    # All kinds of one thing (triggers, operators, actions, ways to assign), by the name they have in a rule file.
    # A new kind is one file and one line in such a table.
    class Registry
      include Enumerable

      attr_reader :family

      # @param family [String] what the kinds are, for messages
      # @param kinds [Hash{String => Object}]
      def initialize(family, kinds)
        @family = family
        @kinds = kinds.freeze
        freeze
      end

      # @return [Object] the kind
      # @raise [Error] when there is none of that name
      def fetch(name)
        @kinds.fetch(name) do
          raise Error.new("There is no #{family} #{name.inspect}; known: #{names.join(", ")}.", name:)
        end
      end

      def [](name) = @kinds[name]
      def names = @kinds.keys
      def key?(name) = @kinds.key?(name)
      def each(&block) = @kinds.each(&block)
    end
  end
end
