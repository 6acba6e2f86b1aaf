# frozen_string_literal: true

module Yenvo
  module Engine
    # How many records a rule with timers would fire for at once, since their moment is past already, were it published
    # so.
    class PastMoments
      MOST = 10_000
      READ = 1_000

      # count: records, or tasks, whose moment is past and that meet the conditions now; looked_at: records; more:
      # whether there are more that were not looked at; example: title of one, or nil.
      Result = Core::Value.define(:count, :looked_at, :more, :example)

      # @param root [Store::Root]
      # @param rule [Core::CompiledRule]
      # @param now [Time]
      def initialize(root, rule, now:)
        @root = root
        @rule = rule
        @now = now
      end

      # @return [Result]
      def count
        if @rule.timing.nil? || @rule.timing.per == :rule
          return Result.new(count: 0, looked_at: 0, more: false, example: nil)
        end

        found = []
        looked = 0
        last = nil
        loop do
          ids = ids(last, [READ, MOST - looked].min)
          break if ids.empty?

          found.concat(past(ids))
          looked += ids.size
          last = ids.last
          break if looked >= MOST
        end
        Result.new(
          count: found.size, looked_at: looked,
          more: looked >= MOST && ids(last, 1).any?, example: found.first
        )
      end

      private

      def ids(after, limit) =
        if @rule.kind.task?
          @root.task_rows.ids_of_open(after:, limit:)
        else
          @root.records.ids_of(@rule.kind.key, after:, limit:)
        end

      # @return [Array<String>] titles
      def past(ids)
        places = @root.timers.places(@rule, ids, at: @now)
        @root.upkeep.facts(places).zip(places).filter_map do |facts, place|
          kept = facts && Core::Timing::Keeping.of(@rule.timing, facts, kept: nil, since: place.since, past: "fire")
          facts.after["title"] if kept&.due && kept.due <= @now && !kept.look && @rule.rows_for(facts)&.any?
        end
      end
    end
  end
end
