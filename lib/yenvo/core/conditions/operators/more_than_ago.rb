# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # A date or moment longer ago than that.
      class MoreThanAgo < Relative
        def words = "is more than N ago"
        def sign = -1
        def within?(actual, edge, _now) = actual < edge
      end
    end
  end
end
