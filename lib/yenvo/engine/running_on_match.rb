# frozen_string_literal: true

module Yenvo
  module Engine
    # "Run on the N records that match now": goes through the records bit by bit and starts the rule on those that match,
    # each in the journal like anything else that happens. Each bit is a transaction of its own, so a job goes on where it
    # was, whatever dies when.
    class RunningOnMatch
      BIT = 200

      # @param root [Store::Root]
      def initialize(root, log: SemanticLogger["Job"])
        @root = root
        @log = log
      end

      # Does one bit of the next job.
      # @param now [Time]
      # @return [Integer] records looked at, 0 when there is no job
      # @raise [Sequel::Error] when the database is away; any other error ends the job as failed
      def take(now:)
        job = nil
        @root.transaction do
          job = @root.jobs.claim or next 0
          rule = @root.rules.compiled([job[:version_id]])[job[:version_id]]
          next @root.jobs.stop(job[:id], now: now) && 0 unless rule && @root.rules.find!(job[:rule_id])[:version_id] == job[:version_id]

          bit(job, rule, now)
        end
      rescue Sequel::Error
        raise
      rescue => error
        raise unless job

        @log.error("A job failed", {job: job[:id]}, error)
        @root.jobs.stop(job[:id], now: now, state: "failed")
        0
      end

      private

      def bit(job, rule, now)
        cause = Store::Journal::Cause.person(job[:by], now)
        place = job[:place] && JSON.parse(job[:place])
        found = Trying.new(@root, rule, who: job[:by], now: now, filter: JSON.parse(job[:filter])).matching(after: place, limit: BIT)
        free = @root.jobs.take_records(job, found[:facts].map { |facts| facts.event.record_id })
        started = found[:facts].select { |facts| free.include?(facts.event.record_id) }
        started.each { |facts| start(facts, job, rule, cause) }
        @root.jobs.progress(job, looked_at: found[:looked_at], started: started.size, place: found[:rest], now: now)
        found[:looked_at]
      end

      def start(facts, job, rule, cause)
        event = facts.event
        @root.journal.add("started", cause, record_id: event.record_id, kind: event.kind, before: event.before, after: event.after, detail: {"rule" => rule.id, "name" => rule.rule.name, "job" => job[:id]})
      end
    end
  end
end
