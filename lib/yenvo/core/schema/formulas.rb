# frozen_string_literal: true

module Yenvo
  module Core
    class Schema
      # The formulas of the worked-out fields of a schema, each tied once, when it is first asked for. A formula may use
      # other worked-out fields; going round in a circle and going too deep are found here.
      class Formulas
        MAX_NESTED = 4

        def initialize(schema)
          @schema = schema
          @bound = {}
          @lock = Monitor.new
          @under_way = []
        end

        # @return [Formula, nil]
        def formula(kind, field) = bound(kind, field)[0]

        # @return [Array<Problem>]
        def problems(kind, field) = bound(kind, field)[1]

        private

        def bound(kind, field)
          known = @bound[[kind.key, field.key]]
          known || @lock.synchronize { @bound[[kind.key, field.key]] || tie(kind, field) }
        end

        def tie(kind, field)
          place = [kind.key, field.key]
          if @under_way.include?(place)
            return refuse("must not lead back to itself; #{field.label} is worked out from #{field.label}")
          end
          if @under_way.size >= MAX_NESTED
            return refuse("must not be nested more than #{MAX_NESTED} worked-out fields deep")
          end

          @under_way.push(place)
          problems = []
          formula = Formula.bind(field.formula, kind, @schema, type: field.type, problems:)
          @under_way.pop
          # What was found while another was under way may differ when it is asked for by itself.
          @under_way.empty? ? @bound[place] = [formula, problems] : [formula, problems]
        end

        def refuse(sentence) = [nil, [Problem.at([], sentence)]]
      end
    end
  end
end
