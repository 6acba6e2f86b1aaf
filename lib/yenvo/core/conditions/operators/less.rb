# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A number below another.
      class Less < Operator
        asks "actual < operand"

        def words = "is less than"
        def types = ORDERED
      end
    end
  end
end
