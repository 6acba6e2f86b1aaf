# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # Was this before the event and is another now.
      class ChangedFrom < Operator
        def side = :both
        def holds?(actual, operand) = actual == operand

        def compile(get, operand, before, **)
          ->(facts) { before.call(facts) == operand && get.call(facts) != operand }
        end
      end
    end
  end
end
