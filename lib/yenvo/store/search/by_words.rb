# frozen_string_literal: true

module Yenvo
  module Store
    # What finding by words has alike: some are looked at, the newest first, and each whether it has all words that are
    # asked for, until a page is full or enough were looked at.
    class ByWords < Base
      # Looked at at first, since mostly the newest fit; at one go after that; and at most for each that is wanted.
      FIRST = 40
      AT_ONCE = 200
      MOST_OF_ONE = 25

      # @param sight [Sight] of who asks
      def initialize(root, sight)
        super(root)
        @sight = sight
      end

      # @param asked [Array<String>] words
      # @param after [Integer, nil] number to go on from
      # @return [Array(Array<Found>, Integer)] and where to go on; nil at the end
      def page(asked, limit:, after: nil)
        found, looked = [], 0
        loop do
          ids = looked_at(asked, after)
          found.concat(fitting(ids, asked))
          return full(found, limit) if found.size > limit
          return [found, nil] if ids.size < at_once

          after, @at_once = ids.last, AT_ONCE
          return [found, after] if found.size == limit || (looked += ids.size) >= limit * MOST_OF_ONE
        end
      end

      private

      def at_once = @at_once || FIRST
      def full(found, limit) = [found.first(limit), found[limit - 1].id]
    end
  end
end
