# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A date or moment not further ahead than that, and not past.
      class WithinNext < Relative
        def words = "is within the next N"
        def sign = 1
        def within?(actual, edge, now) = actual.between?(now, edge)
      end
    end
  end
end
