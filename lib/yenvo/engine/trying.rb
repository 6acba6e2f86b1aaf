# frozen_string_literal: true

module Yenvo
  module Engine
    # Runs a draft on live records as if its trigger happened to each of them now. Writes nothing.
    class Trying
      MAX_LOOKED_AT = 10_000
      PAGE = 60
      READ = 2_000

      # What a try found. looked_at: records the trigger could meet that were gone through, newest first; counts: Hash
      # of row label ("1", "otherwise", "skip") to number; rows: of these records, Array of Hashes with id, title,
      # branches and why; rest: where to go on (changed and id), nil when all were looked at.
      Result = Core::Value.define(:looked_at, :counts, :rows, :rest)

      # @param root [Store::Root]
      # @param rule [Core::CompiledRule]
      # @param who [String, nil] person who is thought to cause the events
      # @param now [Time]
      def initialize(root, rule, who:, now:)
        @root = root
        @rule = rule
        @who = who
        @now = now
      end

      # @param show [String, nil] only rows with this label; nil for all
      # @param after [Hash, nil] a +rest+ of before
      # @param most [Integer] records to look at
      # @return [Result]
      def over(show: nil, after: nil, most: MAX_LOOKED_AT)
        counts = Hash.new(0)
        rows = []
        looked = 0
        loop do
          images = @root.lists.newest(@rule.kind.key, @rule.trigger.possible, after: after, limit: [READ, most - looked].min)
          facts = facts_of(images)
          looked += facts.size
          tally(facts, counts, rows, show)
          after = (images.size == [READ, most - looked + facts.size].min) ? images.last.slice("changed", "id") : nil
          break if after.nil? || looked >= most
        end
        Result.new(looked_at: looked, counts: counts, rows: rows, rest: after)
      end

      # @return [Array(Core::Facts, Core::Plan), nil] what would happen to one record, with every reason; nil when the
      #   trigger cannot meet it
      # @raise [Store::NotFound]
      def one(record_id)
        image = @root.records.find!(record_id)
        facts = facts_of([image]).first
        facts && [facts, plan(facts)]
      end

      private

      def facts_of(images)
        events = images.filter_map do |image|
          before, after = @rule.trigger.imagine(image)
          after && Core::Event.new(id: nil, what: before.empty? ? "record_made" : "record_changed", kind: @rule.kind.key, record_id: image["id"], before: before, after: after, who: @who, at: @now)
        end
        chains = @rule.links_to_match + @rule.links_to_plan
        @root.snapshots.facts(events) { chains }
      end

      # The fast form answers for all, the explaining form for the few that are shown.
      def tally(facts, counts, rows, show)
        hits = facts.map { |one| @rule.hit(one) }
        ran = ran_already(facts, hits)
        facts.zip(hits) do |one, hit|
          labels = (hit.nil? || ran.include?(@rule.once_key(one))) ? ["skip"] : hit.map { |index| @rule.label(index) }
          labels.each { |label| counts[label] += 1 }
          rows << row(one) if rows.size < PAGE && (show.nil? || labels.include?(show))
        end
      end

      def ran_already(facts, hits)
        keys = facts.zip(hits).filter_map { |one, hit| hit && @rule.id && @rule.once_key(one) }
        @root.runs.keys_taken(@rule.id, keys)
      end

      def row(facts)
        plan = plan(facts)
        {"id" => facts.event.record_id, "title" => facts.after["title"], "branches" => plan.branches, "why" => plan.why, "failed" => false}
      rescue Core::Error => error
        {"id" => facts.event.record_id, "title" => facts.after["title"], "branches" => [], "why" => error.message, "failed" => true}
      end

      def plan(facts) = @rule.plan(facts, now: @now) { @rule.id && @root.runs.keys_taken(@rule.id, [@rule.once_key(facts)]).any? }
    end
  end
end
