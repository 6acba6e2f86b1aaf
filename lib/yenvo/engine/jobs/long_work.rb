# frozen_string_literal: true

module Yenvo
  module Engine
    # Long work is done bit by bit, each a transaction of its own, so that a job goes on where it was, whatever dies
    # when:
    # running a rule on all records that match, building the timers of a rule, a schedule that is for each record.
    class LongWork
      # @param root [Store::Root]
      def initialize(root, log: SemanticLogger["Job"])
        @root = root
        @log = log
        @kinds = {
          "run_on_match" => RunningOnMatch.new(root), "timers" => BuildingTimers.new(root),
          "schedule" => RunningOnSchedule.new(root)
        }
        @of_house = {
          "redate" => Redating.new(root), "hand_over" => HandingOver.new(root), "hand_back" => HandingBack.new(root),
          "table_look" => LookingAtTable.new(root), "table_in" => BringingTableIn.new(root),
          "table_undo" => TakingTableBack.new(root), "bulk" => ChangingMany.new(root),
          "bulk_undo" => ChangingMany.new(root, undo: true), "index_words" => IndexingWords.new(root)
        }
      end

      # Does one bit of the next job.
      # @param now [Time]
      # @return [Integer] records looked at, 0 when there is no job
      # @raise [Sequel::Error] when the database is away or others are in the way; any other error ends the job as
      #   failed
      def take(now:)
        return 0 unless @root.jobs.under_way?

        job = nil
        @root.transaction do
          job = @root.jobs.claim or next 0
          began = [now, job[:at]].max
          next [@of_house[job[:what]].bit(job, began), 1].max if @of_house.key?(job[:what])

          id, version = job.values_at(:id, :version_id)
          rule = @root.in_force.of_rows([job])[version]
          next @root.jobs.stop(id, now:) && 1 unless rule && @root.rules.find!(job[:rule_id])[:version_id] == version

          # A job is not worked on before it began, also when this process's clock is behind.
          [@kinds.fetch(job[:what]).bit(job, rule, began), 1].max
        end
      rescue Store::Breakage => error
        raise unless job

        @log.error("A job failed", {job: job[:id]}, error)
        @root.jobs.stop(job[:id], now:, state: "failed")
        [@root.imports, @root.bulk_changes].each { |one| one.failed(job[:id], error, now:) }
        0
      end
    end
  end
end
