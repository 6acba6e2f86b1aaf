# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A text whose first letters are these.
      class BeginsWith < Operator
        def types = Schema::TEXTS
        def holds?(actual, operand) = actual.start_with?(operand)
        def edges(operand) = [operand, "#{operand} and more"]
      end
    end
  end
end
