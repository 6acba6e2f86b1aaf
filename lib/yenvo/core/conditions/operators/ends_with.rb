# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A text whose last letters are these.
      class EndsWith < Operator
        asks "actual.end_with?(operand)"

        def types = Schema::TEXTS
        def edges(operand) = [operand, "more and #{operand}"]
      end
    end
  end
end
