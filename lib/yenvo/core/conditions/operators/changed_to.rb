# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # Is this now and was another before the event.
      class ChangedTo < Operator
        def side = :both
        def holds?(actual, operand) = actual == operand
        def pins(operand) = [operand]

        def compile(get, operand, before, **)
          ->(facts) { get.call(facts) == operand && before.call(facts) != operand }
        end
      end
    end
  end
end
