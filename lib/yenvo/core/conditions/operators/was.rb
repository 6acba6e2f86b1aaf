# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # Equal to a value before the event.
      class Was < Operator
        def side = :before
        def holds?(actual, operand) = actual == operand

        def compile(_get, operand, before, **)
          ->(facts) { !(earlier = before.call(facts)).nil? && holds?(earlier, operand) }
        end
      end
    end
  end
end
