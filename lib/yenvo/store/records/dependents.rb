# frozen_string_literal: true

module Yenvo
  module Store
    # Which records look at one that has changed, over their links or by counting what leads to them.
    class Dependents < Base
      MOST = 20_000

      # @param needs [Array<Core::Need>] of things worked out for records
      # @return [Array<Hash>] chain of links and what is gone over at its end; a change half-way along a chain counts
      #   too
      def self.uses(needs)
        needs
          .flat_map do |need|
            [
              {chain: need.chain, over: need.over},
              *(1...need.chain.size).map { |size| {chain: need.chain.first(size), over: nil} }
            ]
          end
          .uniq
      end

      # Chains are walked backwards, from what has changed to where they begin.
      # @param use [Hash] see +uses+
      # @param type [Core::Schema::Kind] of the record that has changed
      # @param before, after [Hash] its images
      # @return [Array<Integer>] records that may see something else now
      def ids(use, type, before, after)
        id = after["id"] || before["id"]
        start = start_of(use, type, before, after, id)
        return [] if start.empty? || (use[:chain].empty? && start == [id])

        use[:chain].reverse
          .inject(start) do |ids, link|
            ids.empty? ? [] : db[:links].where(target_id: ids, field: link).limit(MOST).select_map(:record_id).uniq
          end
      end

      private

      def start_of(use, type, before, after, id)
        return [id] if use[:over].nil?

        of, field = use[:over].split(".", 2)
        [type.key, type.list].include?(of) ? [before[field], after[field]].compact.uniq : []
      end
    end
  end
end
