# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # Anything but one value; an empty field is not it either.
      class IsNot < Operator
        def when_empty = true
        def holds?(actual, operand) = actual != operand
      end
    end
  end
end
