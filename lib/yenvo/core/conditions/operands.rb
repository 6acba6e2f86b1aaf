# frozen_string_literal: true

module Yenvo
  module Core
    # Reads the right side of a condition.
    module Operands
      module_function

      # @return [Array(Object, Object)] the operand and nil, or nil and the left side that it is compared with
      # @raise [Unreadable]
      def read(operator, field, condition, kind, schema)
        return [nil, other(operator, field, condition.other, kind, schema)] if condition.other

        [operand(operator, field, condition.value, schema), nil]
      end

      def operand(operator, field, value, schema)
        single = field.single
        case operator.takes
        when :nothing
          nil
        when :span
          span(field, operator, value)
        when :one
          filled(field, Reading.value(single, value, schema))
        else
          values = Array(value).map { |one| filled(field, Reading.value(single, one, schema)) }
          if operator.takes == :pair && (values.size != 2 || values[0] > values[1])
            raise Unreadable, "#{field.label} #{operator.words} takes two values, the lower first."
          end

          filled(field, values)
        end
      end

      def span(field, operator, value)
        raise Unreadable, "#{field.label} takes a stretch of time here; leave none out." if value.nil?

        Span.read(value)
      rescue Unreadable => error
        raise Unreadable, "#{field.label} #{operator.words}: #{error.message}"
      end

      def filled(field, value)
        raise Unreadable, "#{field.label} takes a value here; leave none out." if value.nil? || value == []

        value
      end

      def other(operator, field, path, kind, schema)
        unless operator.takes == :one && operator.side == :after
          raise Unreadable, "#{operator.words} cannot compare two fields; give it a value."
        end

        found, wrong = Sides.find(path, kind, schema)
        raise Unreadable, "the other side #{wrong}" if wrong
        unless family(field) == family(found.field)
          raise Unreadable,
            "#{field.label} and #{found.label} are a #{field.type_words} and a " \
            "#{found.field.type_words}, which cannot be compared."
        end

        found
      end

      def family(field)
        return "text" if field.textual?
        return "number" if field.numeric?

        field.type
      end
    end
  end
end
