# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A number not above another.
      class AtMost < Operator
        def words = "is at most"
        def types = ORDERED
        def holds?(actual, operand) = actual <= operand
      end
    end
  end
end
