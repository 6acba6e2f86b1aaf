# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A number not below another.
      class AtLeast < Operator
        def words = "is at least"
        def types = ORDERED
        def holds?(actual, operand) = actual >= operand
      end
    end
  end
end
