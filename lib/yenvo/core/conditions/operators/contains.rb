# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A text with these letters in it, or a field of several choices with this one among them.
      class Contains < Operator
        def types = [*Schema::TEXTS, "choices"]
        def holds?(actual, operand) = actual.include?(operand)
        def edges(operand) = [operand, "#{operand} and more"]
      end
    end
  end
end
