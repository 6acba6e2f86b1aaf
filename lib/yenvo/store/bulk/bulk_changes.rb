# frozen_string_literal: true

module Yenvo
  module Store
    # Many records, chosen or all that match, that are changed together by a worker, bit by bit, each as whoever began
    # it would by hand; stopped, gone on with, and undone as one for a week.
    class BulkChanges < Base
      keeps :bulk_changes

      MOST = 100_000
      # Changes of one person that are under way at once.
      MOST_OF_PERSON = 3
      DAYS = 7
      PAGE = 50
      PURGED_AT_ONCE = 20
      UNDER_WAY = %w[running undoing].freeze
      # The states from which each leads on.
      FROM = {"running" => %w[stopped], "undoing" => %w[done stopped undone_partly]}.freeze
      JOBS = {"running" => "bulk", "undoing" => "bulk_undo"}.freeze
      STOPPED = {"running" => "stopped", "undoing" => "undone_partly"}.freeze

      # @param doing [BulkDoing] what is done with each
      # @param records [Array<Integer>, Sequel::Dataset] numbers, or a dataset of them
      # @return [Hash] row
      # @raise [Refused]
      def begin(doing, records, cause:)
        root.transaction do
          not_too_many(cause)
          id = table.insert(kind: doing.kind.key, **doing.columns, state: "running", by: cause.who, at: cause.at)
          fill(id, records)
          total = rows(id).count
          refuse("records", "There is nothing to change.") if total.zero?
          refuse("records", too_many(total)) if total > MOST
          start(id, "running", "bulk", total, cause)
        end
      end

      # @return [Hash]
      # @raise [NotFound]
      def find!(id) = table.where(id:).first || raise(NotFound, "There is no such change of many.")

      # @return [Array<Hash>] of a person, the newest first
      def of(person, limit: PAGE) = table.where(by: person).reverse(:id).limit(limit).all

      # @param id [Integer, Array<Integer>]
      # @return [Sequel::Dataset] what became of each record
      def rows(id) = db[:bulk_rows].where(bulk_id: id)

      # @param ids [Array<Integer>]
      # @return [Hash{Integer => Hash{String => Integer}}] of each, how many by state
      def counts(ids)
        found = rows(ids).group_and_count(:bulk_id, :state).all.group_by { |row| row[:bulk_id] }
        found.transform_values { |some| some.to_h { |row| row.values_at(:state, :count) } }
      end

      # Goes on where it was stopped, or undoes it.
      # @param state [String] one of UNDER_WAY
      # @raise [Refused]
      def go_on(id, state, cause:)
        root.transaction do
          row = table.where(id:).for_update.first || find!(id)
          refuse("bulk", SAID.fetch(row[:state], CANNOT)) unless FROM.fetch(state).include?(row[:state])
          refuse("bulk", LATE) if BulkChanges.ends(row) < cause.at
          total = rows(id).where(state: (state == "running") ? "waiting" : "changed").count
          start(id, state, JOBS.fetch(state), total, cause)
        end
      end
      CANNOT = "That cannot be done now."
      LATE = "It is more than #{DAYS} days ago; nothing of how it was is kept.".freeze
      SAID = {
        "running" => "It is under way. Stop it first.", "undoing" => "It is being undone already.",
        "undone" => "It was undone already.", "done" => "It is done already."
      }.freeze
      private_constant :CANNOT, :LATE, :SAID

      # @raise [Refused]
      def stop(id, now:)
        root.transaction do
          # The job first, as the worker does, which has to end its bit.
          job = find!(id)[:job_id]
          root.jobs.stop(job, now:)
          row = table.where(id:).for_update.first
          refuse("bulk", "It is not under way.") unless UNDER_WAY.include?(row[:state]) && row[:job_id] == job
          table.where(id:).update(state: STOPPED.fetch(row[:state]), ended_at: now)
        end
        find!(id)
      end

      # Ends what a job that failed was about.
      # @param error [StandardError]
      def failed(job_id, error, now:)
        row = table.where(job_id:, state: UNDER_WAY).first or return
        words = error.is_a?(Core::Error) ? error.message : Imports::BROKE
        table.where(id: row[:id]).update(state: STOPPED.fetch(row[:state]), ended_at: now, failed: words[0, 500])
      end

      # @param row [Hash]
      # @return [Time] until when it can be undone
      def self.ends(row) = row[:at] + (DAYS * 86_400)

      # Forgets how records were, after a week.
      # @return [Integer] how many
      def purge(now:) = old(now).exclude(state: UNDER_WAY).order(:id).limit(PURGED_AT_ONCE).delete

      private

      def old(now) = table.where { at < now - (DAYS * 86_400) }

      def start(id, state, job, total, cause)
        job = root.jobs.begin_for_house(job, "Change of many records", total, {"bulk" => id}, cause)
        table.where(id:).update(state:, job_id: job[:id], ended_at: nil, failed: nil)
        find!(id)
      end

      def fill(id, records)
        return db[:bulk_rows].insert(%i[bulk_id record_id], records.limit(MOST + 1).from_self.select(id, :id)) if
          records.is_a?(Sequel::Dataset)

        db[:bulk_rows].import(%i[bulk_id record_id], records.uniq.map { |record| [id, record] })
      end

      def not_too_many(cause)
        under_way = table.where(by: cause.who, state: UNDER_WAY).count
        return if under_way < MOST_OF_PERSON

        refuse("bulk", "You have #{under_way} changes of many under way. Wait for one of them, or stop it.")
      end

      def too_many(total)
        many = (total > MOST) ? "More than #{Core::Show.count(MOST)}" : Core::Show.count(total)
        "#{many} records are more than are changed together. Narrow what you choose."
      end
    end
  end
end
