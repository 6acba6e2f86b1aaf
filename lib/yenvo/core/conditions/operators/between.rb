# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A number or date from one to another, both counted in.
      class Between < Operator
        asks "actual >= operand[0] && actual <= operand[1]"

        def words = "is between"
        def takes = :pair
        def types = [*ORDERED, *Schema::DATES]
      end
    end
  end
end
