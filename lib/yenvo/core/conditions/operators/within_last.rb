# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A date or moment not longer ago than that, and not ahead.
      class WithinLast < Relative
        def words = "is within the last N"
        def sign = -1
        def within?(actual, edge, now) = actual.between?(edge, now)
      end
    end
  end
end
