# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A date or moment earlier than another. Both stand in a form that sorts as text in order of time.
      class Before < Operator
        asks "actual < operand"

        def words = "is before"
        def types = Schema::DATES
      end
    end
  end
end
