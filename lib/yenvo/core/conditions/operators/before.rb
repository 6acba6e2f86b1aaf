# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A date or moment earlier than another. Both stand in a form that sorts as text in order of time.
      class Before < Operator
        def words = "is before"
        def types = Schema::DATES
        def holds?(actual, operand) = actual < operand
      end
    end
  end
end
