# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A text without these letters, or several choices without this one; an empty field has nothing in it.
      class DoesNotContain < Contains
        asks "!actual.include?(operand)"

        def when_empty = true
      end
    end
  end
end
