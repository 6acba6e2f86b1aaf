# frozen_string_literal: true

module Yenvo
  module Store
    # Finding records and notes by the index of their words: the rarest of those that are asked for names what is looked
    # at.
    class ByIndex < ByWords
      # Different words that one beginning may stand for.
      BEGINNINGS = 12
      # Words of a question of which the rarest is looked for; each is asked of what is looked at.
      WEIGHED = 8

      private

      # @return [Array<Integer>] numbers of those with the rarest word, the greatest first
      def looked_at(asked, after)
        word = rarest(asked)
        rows = words(word).map { |one| having(one, after) }.inject { |all, one| all.union(one, all: true) }
        rows.distinct.reverse(:ref).limit(at_once).select_map(:ref)
      end

      def rarest(asked)
        @rarest ||= (asked.size == 1) ? asked[0] : asked.first(WEIGHED).min_by { |word| count(word) }
      end

      # As MariaDB guesses it from its index, without counting.
      def count(word) = db.fetch("EXPLAIN #{beginning(word).select(:ref).sql}").first[:rows].to_i

      # Words that begin so, itself among them; from one to the next, since DISTINCT would go along all rows of each.
      def words(word) = @words ||= [word] | beginnings(word, [])

      def beginnings(word, found)
        more = following(word, found.last) if found.size < BEGINNINGS
        more ? beginnings(word, [*found, more]) : found
      end

      def following(word, last)
        found = beginning(word).order(:word)
        (last ? found.where { Sequel[:word] > last } : found).get(:word)
      end

      def having(word, after)
        found = db[:words].where(sort:, word:).reverse(:ref).limit(at_once).select(:ref)
        (after ? found.where { ref < after } : found).from_self
      end

      def beginning(word) = db[:words].where(sort:).where(begins(word))
      def begins(word) = Sequel.ilike(:word, "#{db.dataset.escape_like(word)}%")
    end
  end
end
