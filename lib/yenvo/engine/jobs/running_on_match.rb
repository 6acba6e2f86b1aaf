# frozen_string_literal: true

module Yenvo
  module Engine
    # "Run on the N records that match now": goes through the records bit by bit and starts the rule on those that
    # match, each in the journal like anything else that happens.
    class RunningOnMatch
      BIT = 200

      # @param root [Store::Root]
      def initialize(root)
        @root = root
      end

      # @param job [Hash] row
      # @param rule [Core::CompiledRule]
      # @param now [Time]
      # @return [Integer] records looked at
      def bit(job, rule, now)
        cause = Store::Journal::Cause.person(job[:by], now)
        place = job[:place] && JSON.parse(job[:place])
        trying = Trying.new(@root, rule, who: job[:by], now:, filter: JSON.parse(job[:filter]))
        found = trying.matching(after: place, limit: BIT)
        free = @root.jobs.take_records(job, found[:facts].map { |facts| facts.record_id })
        started = found[:facts].select { |facts| free.include?(facts.record_id) }
        started.each { |facts| start(facts, job, rule, cause) }
        @root.jobs.progress(job, looked_at: found[:looked_at], started: started.size, place: found[:rest], now:)
        found[:looked_at]
      end

      private

      def start(facts, job, rule, cause)
        event = facts.event
        @root.journal.add(
          "started", cause, record_id: event.record_id, kind: event.kind, before: event.before, after: event.after,
          detail: {"rule" => rule.id, "name" => rule.rule.name, "job" => job[:id]}
        )
      end
    end
  end
end
