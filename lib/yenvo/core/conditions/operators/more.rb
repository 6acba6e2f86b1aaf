# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A number above another.
      class More < Operator
        asks "actual > operand"

        def words = "is more than"
        def types = ORDERED
      end
    end
  end
end
