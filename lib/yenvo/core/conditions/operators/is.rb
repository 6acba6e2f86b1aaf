# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # Equal to one value; texts without regard to case.
      class Is < Operator
        asks "actual == operand"

        def pins(operand) = [operand]
      end
    end
  end
end
