# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A number not below another.
      class AtLeast < Operator
        asks "actual >= operand"

        def words = "is at least"
        def types = ORDERED
      end
    end
  end
end
