# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A number above another.
      class More < Operator
        def words = "is more than"
        def types = ORDERED
        def holds?(actual, operand) = actual > operand
      end
    end
  end
end
