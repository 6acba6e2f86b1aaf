# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A number or date from one to another, both counted in.
      class Between < Operator
        def words = "is between"
        def takes = :pair
        def types = [*ORDERED, *Schema::DATES]
        def holds?(actual, operand) = actual.between?(*operand)
      end
    end
  end
end
