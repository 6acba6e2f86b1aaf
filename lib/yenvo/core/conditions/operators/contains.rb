# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A text with these letters in it, or a field of several choices with this one among them.
      class Contains < Operator
        asks "actual.include?(operand)"

        def types = [*Schema::TEXTS, "choices"]
        def edges(operand) = [operand, "#{operand} and more"]
      end
    end
  end
end
