# frozen_string_literal: true

module Yenvo
  module Core
    # A condition tied to the schema, in two forms made from the same object: +to_proc+ is quick, +explain+ says what it
    # saw.
    class BoundCondition
      attr_reader :condition, :reference, :operator, :operand, :other

      # @param condition [Condition]
      # @param kind [Schema::Kind]
      # @param schema [Schema]
      # @param path [Array] place in the rule, for problems
      # @param problems [Array<Problem>] filled with what is wrong
      # @return [BoundCondition, nil] nil when something is
      def self.bind(condition, kind, schema, path: [], problems: [])
        no = ->(step, wrong) { problems.push(Problem.at([*path, step], wrong)) && nil }
        reference, wrong = Sides.find(condition.field, kind, schema)
        return no.call("field", wrong) if wrong

        operator = Operators.all.fetch(condition.test)
        wrong = misfit(operator, reference)
        return no.call("test", wrong) if wrong

        operand, other = Operands.read(operator, reference.field, condition, kind, schema)
        new(condition, reference, operator, operand, other, schema)
      rescue Unreadable => error
        no.call("value", "must fit the field: #{error.message}")
      end

      def self.misfit(operator, reference)
        field = reference.field
        unless operator.types.include?(field.type)
          return (
            "must be one that a #{field.type_words} field such as #{reference.label} can be asked; " \
            "#{operator.words} is not"
          )
        end

        if operator.side != :after && reference.before_getter.nil?
          "must be asked of a field that is kept with the record itself; what #{reference.label} was before is not " \
          "kept with the event"
        end
      end
      private_class_method :misfit

      def initialize(condition, reference, operator, operand, other, schema)
        @condition = condition
        @reference = reference
        @operator = operator
        @operand = operand
        @other = other
        @schema = schema
        @fast = fast
        earlier = operator.side == :before
        @looked_at = earlier ? reference.before_getter : reference.getter
        @label = -(earlier ? "#{reference.label} before" : reference.label)
        @phrase = -worded
        freeze
      end

      # @return [String] such as "is one of Ireland, France"
      attr_reader :phrase, :label

      # @return [Array<Reference>] the sides that it looks at
      def asked = [reference, other].compact

      # @return [Array<Need>] what has to be loaded before it can be asked
      def needs = reference.needs + (other ? other.needs : [])

      # @return [Proc] the fast form, from Facts to true or false
      def to_proc = @fast

      # @return [TestResult] the explaining form
      def explain(facts)
        seen = Show.value(reference.field, @looked_at.call(facts), @schema, facts.titles)
        if other
          seen =
            "#{seen}, #{other.label} #{Show.value(other.field, other.getter.call(facts), @schema, facts.titles)}"
        end
        TestResult.new(met: @fast.call(facts), label: @label, phrase: @phrase, seen:, mode: nil, items: nil)
      end

      # @return [Array(String, Array), nil] own field and the values to one of which it is pinned
      def pin
        return if other || !reference.stored? || !(values = operator.pins(operand))

        [reference.field.key, values] unless reference.field.textual? || reference.field.numeric?
      end

      def each_leaf = yield(self)

      # @return [Boolean] whether it may become true on another day, or at another moment, without any change
      def day? = reference.day? || operator.takes == :span || (other ? other.day? : false)

      # @return [Boolean] whether only a change of the record itself can make it another
      def steady? =
        reference.stored? && operator.side == :after && operator.takes != :span && (other.nil? || other.stored?)

      # @return [Integer] about how much work it is to ask, so that the cheapest of a group are asked first
      def cost = (reference.stored? ? 1 : 10) + (fold? ? 1 : 0) + (other ? 5 : 0)

      private

      def fast
        if plain?
          key = reference.field.key
          return fold? ? operator.of_folded_field(key, folded_operand) : operator.of_field(key, operand)
        end

        operator.compile(
          folded(reference.getter), folded_operand, reference.before_getter && folded(reference.before_getter),
          other: other && folded(other.getter), calendar: @schema.calendar, type: reference.field.type
        )
      end

      # A field of the record itself, held against a value.
      def plain? = reference.stored? && other.nil? && operator.side == :after && operator.takes != :span

      def worded
        return operator.phrase(other.label) if other
        return operator.phrase(nil) if operand.nil?
        return operator.phrase(operand.to_s) if operand.is_a?(Span)

        words =
          Array(operand).map { |one| Show.value(reference.field.single, one, @schema) }
            .join((operator.takes == :pair) ? " and " : ", ")
        condition.exact ? "#{operator.phrase(words)}, capitals counting" : operator.phrase(words)
      end

      # Texts are held against each other without regard to case, unless the condition asks for it.
      def fold? = reference.field.textual? && !condition.exact

      def folded(get) = fold? ? ->(facts) { get.call(facts)&.downcase } : get

      def folded_operand
        return operand unless fold?

        operand.is_a?(Array) ? operand.map(&:downcase) : operand&.downcase
      end
    end
  end
end
