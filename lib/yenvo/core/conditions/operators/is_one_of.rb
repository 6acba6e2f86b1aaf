# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # Equal to one of several values.
      class IsOneOf < Operator
        asks "operand.include?(actual)"

        def takes = :many
        def pins(operand) = operand
      end
    end
  end
end
