# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # Nothing in it.
      class IsEmpty < Operator
        def takes = :nothing
        def types = Schema::TYPES
        def when_empty = true
        def holds?(_actual, _operand) = false
        def edges(_operand) = []
      end
    end
  end
end
