# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A date or moment further ahead than that.
      class MoreThanAhead < Relative
        def words = "is more than N ahead"
        def sign = 1
        def within?(actual, edge, _now) = actual > edge
      end
    end
  end
end
