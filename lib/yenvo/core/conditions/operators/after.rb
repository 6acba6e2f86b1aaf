# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A date or moment later than another. Both stand in a form that sorts as text in order of time.
      class After < Operator
        def words = "is after"
        def types = Schema::DATES
        def holds?(actual, operand) = actual > operand
      end
    end
  end
end
