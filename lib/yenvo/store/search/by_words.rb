# frozen_string_literal: true

module Yenvo
  module Store
    # What finding records and notes by their words has alike: the rarest of the words that are asked for names those
    # that are looked at, the newest first, and each is looked at whether it has the others.
    class ByWords < Base
      # Looked at at one go, and at most for one page.
      AT_ONCE = 200
      MOST = 1_000
      # Rows of the index up to which a word is counted, and different words that one beginning may stand for.
      COUNTED = 2_000
      BEGINNINGS = 30

      # @param sight [Sight] of who asks
      def initialize(root, sight)
        super(root)
        @sight = sight
      end

      # @param asked [Array<String>] words
      # @param after [Integer, nil] number to go on from
      # @return [Array(Array<Search::Found>, Integer)] and where to go on; nil at the end
      def page(asked, limit:, after: nil)
        found, looked = [], 0
        word = rarest(asked)
        loop do
          ids = candidates(word, after)
          found.concat(fitting(ids, asked))
          return [found, nil] if ids.size < AT_ONCE && found.size <= limit

          after = ids.last
          return cut(found, limit, after) if found.size >= limit || (looked += ids.size) >= MOST
        end
      end

      private

      def cut(found, limit, after) = (found.size > limit) ? [found.first(limit), place(found[limit - 1])] : [found, after]

      # @return [String] the word that fewest have
      def rarest(asked)
        (asked.size == 1) ? asked[0] : asked.min_by { |word| beginning(word).limit(COUNTED).from_self.count }
      end

      # @return [Array<Integer>] numbers of those with a word that begins so, the greatest first
      def candidates(word, after)
        words = beginning(word).distinct.limit(BEGINNINGS).select_map(:word)
        words.unshift(word) unless words.include?(word)
        each = words.map { |one| having(one, after) }
        each.inject { |all, one| all.union(one, all: true, from_self: false) }.from_self.distinct
          .reverse(:ref).limit(AT_ONCE).select_map(:ref)
      end

      def having(word, after)
        found = db[:words].where(sort:, word:).reverse(:ref).limit(AT_ONCE).select(:ref)
        (after ? found.where { ref < after } : found).from_self
      end

      def beginning(word) = db[:words].where(sort:).where(Sequel.ilike(:word, "#{db.dataset.escape_like(word)}%"))
    end
  end
end
