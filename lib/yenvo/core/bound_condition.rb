# frozen_string_literal: true

module Yenvo
  module Core
    # A condition tied to the schema, in two forms made from the same object: +to_proc+ is quick, +explain+ says what it saw.
    class BoundCondition
      attr_reader :condition, :reference, :operator, :operand

      # @param condition [Condition]
      # @param kind [Schema::Kind]
      # @param schema [Schema]
      # @param path [Array] place in the rule, for problems
      # @param problems [Array<Problem>] filled with what is wrong
      # @return [BoundCondition, nil] nil when something is
      def self.bind(condition, kind, schema, path: [], problems: [])
        reference, wrong = Reference.find(condition.field, kind, schema)
        return problems.push(Problem.at([*path, "field"], wrong)) && nil if wrong

        operator = Operators.all.fetch(condition.test)
        wrong = misfit(operator, reference)
        return problems.push(Problem.at([*path, "test"], wrong)) && nil if wrong

        operand = read_operand(operator, reference.field, condition.value, schema)
        new(condition, reference, operator, operand, schema)
      rescue Unreadable => error
        problems.push(Problem.at([*path, "value"], "must fit the field: #{error.message}")) && nil
      end

      def self.misfit(operator, reference)
        field = reference.field
        return "must be one that a #{field.type.tr("_", " ")} field such as #{reference.label} can be asked; #{operator.words} is not" unless operator.types.include?(field.type)

        "must be asked of the record's own field; what a linked record was before is not kept with the event" if operator.side != :after && !reference.own?
      end

      def self.read_operand(operator, field, value, schema)
        single = (field.type == "choices") ? Schema::Field.of(field.key, field.label, "choice", choices: field.choices) : field
        case operator.takes
        when :nothing then nil
        when :one then filled(field, Reading.value(single, value, schema))
        else
          values = Array(value).map { |one| filled(field, Reading.value(single, one, schema)) }
          raise Unreadable, "#{field.label} #{operator.words} takes two values, the lower first." if operator.takes == :pair && (values.size != 2 || values[0] > values[1])

          filled(field, values)
        end
      end

      def self.filled(field, value)
        raise Unreadable, "#{field.label} takes a value here; leave none out." if value.nil? || value == []

        value
      end
      private_class_method :misfit, :read_operand, :filled

      def initialize(condition, reference, operator, operand, schema)
        @condition = condition
        @reference = reference
        @operator = operator
        @operand = operand
        @schema = schema
        @fast = operator.compile(folded(reference.getter), folded_operand, folded(reference.before_getter))
        earlier = operator.side == :before
        @looked_at = earlier ? reference.before_getter : reference.getter
        @label = -(earlier ? "#{reference.label} before" : reference.label)
        @phrase = -worded
        freeze
      end

      # @return [String] such as "is one of Ireland, France"
      attr_reader :phrase

      # @return [Proc] the fast form, from Facts to true or false
      def to_proc = @fast

      # @return [TestResult] the explaining form
      def explain(facts)
        seen = Show.value(reference.field, @looked_at.call(facts), @schema, facts.titles)
        TestResult.new(met: @fast.call(facts), label: @label, phrase: @phrase, seen: seen, mode: nil, items: nil)
      end

      # @return [Array(String, Array), nil] own field and the values to one of which it is pinned
      def pin
        return unless reference.own? && (values = operator.pins(operand))

        [reference.field.key, values] unless reference.field.textual? || reference.field.numeric?
      end

      def each_leaf = yield(self)

      private

      def worded
        return operator.phrase(nil) if operand.nil?

        field = (reference.field.type == "choices") ? Schema::Field.of("", "", "choice", choices: reference.field.choices) : reference.field
        operator.phrase(Array(operand).map { |one| Show.value(field, one, @schema) }.join((operator.takes == :pair) ? " and " : ", "))
      end

      def folded(get)
        reference.field.textual? ? ->(facts) { get.call(facts)&.downcase } : get
      end

      def folded_operand
        return operand unless reference.field.textual?

        operand.is_a?(Array) ? operand.map(&:downcase) : operand&.downcase
      end
    end
  end
end
