# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A number not above another.
      class AtMost < Operator
        asks "actual <= operand"

        def words = "is at most"
        def types = ORDERED
      end
    end
  end
end
