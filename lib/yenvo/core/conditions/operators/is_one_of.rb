# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # Equal to one of several values.
      class IsOneOf < Operator
        def takes = :many
        def holds?(actual, operand) = operand.include?(actual)
        def pins(operand) = operand
      end
    end
  end
end
