# frozen_string_literal: true

module Yenvo
  module Engine
    # Knows, for the entries of one turn, what "how often" and the fuses say: what ran before, and what this turn adds.
    class Stretch
      # @param met [Array<Array(Hash, Core::Facts, Core::CompiledRule)>]
      # @param now [Time]
      def initialize(root, met, now)
        @root = root
        @now = now
        @taken = root.runs.taken(met.filter_map { |_, facts, rule| (key = rule.once_key(facts)) && [rule.id, key] })
        @lately = lately(met)
        fused = met.filter_map { |entry, _, rule| [rule.id, entry[:record_id]] if rule.rule.fuse }
        @fused = fused.map(&:first).uniq
        @blown = root.fuses.latest(@fused)
        @counts = root.fuses.counts(fused, now:)
        @pending = Hash.new { |hash, id| hash[id] = [] }
      end

      # @return [Boolean] whether the rule has run in this stretch already
      def over?(rule, facts, key)
        # What goes on after a wait began with a run of its own.
        return false if Core::Continuation.of?(facts.event)
        return ran_within?(rule, facts.event) if rule.every_days

        !key.nil? && @taken.include?([rule.id, key])
      end

      # Lets the rule run once more, unless its fuse blows; it is paused from then on.
      # @return [Boolean] whether it may
      def let_run(rule, entry)
        return true unless rule.rule.fuse
        # People start a rule on purpose, however many records they choose.
        return true if entry[:what] == "started"
        return false if @blown[rule.id] && @blown[rule.id][:epoch] > entry[:epoch]
        if @root.fuses.let_run(rule, entry[:record_id], now: @now, counts: @counts, pending: @pending[rule.id])
          return true
        end

        @blown = @root.fuses.latest(@fused)
        false
      end

      # Counts a run that is going to be written.
      def note(rule, facts, key)
        @taken << [rule.id, key] if key
        @lately[[rule.id, facts.record_id]] << facts.event.at if rule.every_days
        @pending[rule.id] << facts.record_id if rule.rule.fuse && facts.event.what != "started"
      end

      private

      # @return [Hash{Array => Array<Time>}] by rule and record, the events at which rules that run once in some days
      #   ran
      def lately(met)
        paced = met.select { |_, _, rule| rule.every_days }
        rows =
          (
            if paced.empty?
              []
            else
              @root.runs.event_times(
                paced.map { |entry, _, rule| [rule.id, entry[:record_id]] },
                since: paced.map { |entry, _, rule| entry[:at] - (rule.every_days * 86_400) }.min
              )
            end
          )
        rows.each_with_object(Hash.new { |hash, key| hash[key] = [] }) do |(rule, record, at), found|
          found[[rule, record]] << at
        end
      end

      # A run of an event that is later by the clock came before all the same, when the clock has gone back since.
      def ran_within?(rule, event)
        since = event.at - (rule.every_days * 86_400)
        @lately[[rule.id, event.record_id]].any? { |at| at > since }
      end
    end
  end
end
