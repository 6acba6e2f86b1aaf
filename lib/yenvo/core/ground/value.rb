# frozen_string_literal: true

module Yenvo
  module Core
    # Makes small frozen value classes (Ruby 3.1 has no Data). Their +new+ and +initialize+ are written out, since a
    # worker makes dozens of values an event: a Struct with keywords would cost more than all else in planning, and
    # keywords that go through to +initialize+ a Hash for each value.
    class Value
      class << self
        # @return [Array<Symbol>]
        attr_reader :members

        # @param names [Array<Symbol>] the members that must be given to +new+
        # @param usual [Hash{Symbol => Object}] further members with what they are when not given: nil, true, false, a
        #   number, a text or an empty list
        # @yield a class body
        # @return [Class] members are readable and compared by value; +with+ makes a changed copy
        def define(*names, **usual, &body)
          given = [*names.map { |name| "#{name}:" }, *usual.map { |name, value| "#{name}: #{value.inspect}" }].join(
            ", "
          )
          names += usual.keys
          Class.new(Value) do
            @members = names.freeze
            attr_reader(*names)
            class_eval(<<~RUBY, __FILE__, __LINE__ + 1)
              def self.new(#{given}) = super(#{names.join(", ")})

              def initialize(#{names.join(", ")})
                #{names.map { |name| "@#{name} = #{name}" }.join("; ")}
                freeze
              end
            RUBY
            class_eval(&body) if body
          end
        end
      end

      include Sliced

      def members = self.class.members

      # @param name [Symbol] of a member
      def [](name) = public_send(name)

      # @return [Hash{Symbol => Object}]
      def to_h = all_members

      def with(**changes) = self.class.new(**all_members, **changes)

      def ==(other) = other.class == self.class && members.all? { |name| public_send(name) == other.public_send(name) }
      alias_method :eql?, :==

      def hash = [self.class, *members.map { |name| public_send(name) }].hash

      def inspect = "#<#{self.class.name} #{members.map { |name| "#{name}=#{public_send(name).inspect}" }.join(", ")}>"
      alias_method :to_s, :inspect

      private

      # Also where a class shows itself as another Hash.
      def all_members = members.to_h { |name| [name, instance_variable_get(:"@#{name}")] }
    end
  end
end
