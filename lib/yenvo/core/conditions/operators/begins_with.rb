# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A text whose first letters are these.
      class BeginsWith < Operator
        asks "actual.start_with?(operand)"

        def types = Schema::TEXTS
        def edges(operand) = [operand, "#{operand} and more"]
      end
    end
  end
end
