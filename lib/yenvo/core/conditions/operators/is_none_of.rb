# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # Equal to none of several values; an empty field is none of them.
      class IsNoneOf < Operator
        asks "!operand.include?(actual)"

        def takes = :many
        def when_empty = true
      end
    end
  end
end
