# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A number below another.
      class Less < Operator
        def words = "is less than"
        def types = ORDERED
        def holds?(actual, operand) = actual < operand
      end
    end
  end
end
