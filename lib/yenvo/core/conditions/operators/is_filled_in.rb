# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # Something in it.
      class IsFilledIn < Operator
        def takes = :nothing
        def types = Schema::TYPES
        def holds?(_actual, _operand) = true
        def edges(_operand) = []
      end
    end
  end
end
