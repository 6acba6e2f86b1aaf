# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # Anything but one value; an empty field is not it either.
      class IsNot < Operator
        asks "actual != operand"

        def when_empty = true
      end
    end
  end
end
