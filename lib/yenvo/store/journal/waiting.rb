# frozen_string_literal: true

module Yenvo
  module Store
    # The queue of journal entries that no worker has settled. Claimed rows stay locked until the transaction that
    # settles them ends; a worker that dies leaves them free and nothing half done.
    class Waiting < Base
      keeps :waiting

      FULL_LOOK_SECONDS = 1.0
      MAX_PAUSE = 300
      # How often it is looked past entries that have to wait for others.
      MOST_LOOKS = 20

      # Takes up to +limit+ entries, in order; of one record only those before which nothing waits elsewhere.
      # Must be called in a transaction.
      # @param now [Time]
      # @return [Array<Integer>] numbers of entries
      def claim(limit:, now:)
        MOST_LOOKS.times do
          rows = lock(limit, low_water, now)
          rows = lock(limit, 0, now) if rows.empty? && @low_water.to_i.positive?
          return [] if rows.empty?

          @low_water = rows[0][:entry_id] - 1
          free = without_overtaking(rows)
          return free if free.any?
        end
        []
      end

      # Leaves entries to the worker.
      # @param entries [Array<Hash>] rows of the journal, each about a record or a task
      def add(entries) =
        table.multi_insert(
          entries.map { |entry| {entry_id: entry[:id], record_id: Lane.of(*entry.values_at(:record_id, :task_id))} }
        )

      # Settles entries, in the transaction of their effects.
      def settle(ids) = delete_keys(:waiting, :entry_id, ids)

      # Sets one entry aside for a growing while. Later entries of its record wait behind it. One that somebody else has
      # at hand by now is left to them.
      # @param error [StandardError]
      def set_aside(id, error, now:)
        row = table.where(entry_id: id).for_update.skip_locked.first or return
        pause = [2**(row[:tries] + 1), MAX_PAUSE].min
        table.where(entry_id: id).update(
          tries: row[:tries] + 1, not_before: now + pause,
          last_error: "#{error.class}: #{error.message}".scrub("?")[0, 500]
        )
      end

      # @return [Array<Hash>] what was set aside, the oldest first: entry_id, record_id, tries, not_before, last_error,
      #   and of the entry what, kind and at; behind: how many wait behind it
      def aside(limit: 100)
        rows =
          table.exclude(last_error: nil).join(:journal, id: :entry_id)
            .select(:entry_id, Sequel[:waiting][:record_id], :tries, :not_before, :last_error, :what, :kind, :at)
            .order(:entry_id).limit(limit).all
        lanes = column(rows, :record_id)
        counts = table.where(record_id: lanes).group_and_count(:record_id).as_hash(:record_id, :count)
        rows.map do |row|
          lane = row[:record_id]
          row.merge(behind: counts.fetch(lane, 1) - 1, record_id: Lane.record(lane))
        end
      end

      # Lets an entry that was set aside be taken again at once.
      # @raise [NotFound]
      def again(id)
        found = table.where(entry_id: id).exclude(last_error: nil).update(not_before: nil)
        raise NotFound, "Entry #{id} does not stand aside; it may have been settled meanwhile." if found.zero?

        # Other processes look at the whole queue within a second anyway.
        @looked = nil
      end

      # A look without a transaction, for a worker that mostly finds nothing.
      def none? = table.empty?

      def count = table.count

      private

      # InnoDB steps over the index entries of deleted rows until it has purged them; beginning behind the last claim
      # spares that. Lower numbers may still come in late, so once a second the whole queue is looked at.
      def low_water
        tick = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        return @low_water.to_i if @looked && tick - @looked < FULL_LOOK_SECONDS

        @looked = tick
        @behind = []
        0
      end

      # Records whose first entry waits elsewhere are passed over for a while; they would fill the whole row otherwise.
      def lock(limit, low, now)
        passed = (@behind ||= [])
        table.where { Sequel[:entry_id] > low }
          .then { |found| passed.empty? ? found : found.exclude(record_id: passed) }
          .where(Sequel.|({not_before: nil}, Sequel[:not_before] <= now)).select(:entry_id, :record_id).order(:entry_id)
          .limit(limit).for_update.skip_locked.all
      end

      # Another worker may hold, or have set aside, an earlier entry of the same record: then ours must wait.
      # Read without locks, so that rows which others hold are seen.
      def without_overtaking(rows)
        ids = column(rows, :entry_id)
        records = column(rows, :record_id).uniq
        blocked = table.where(record_id: records).where { Sequel[:entry_id] < ids.max }.exclude(entry_id: ids)
          .group(:record_id).select_hash(:record_id, Sequel.function(:min, :entry_id).as(:first))
        @behind.concat(blocked.keys)
        rows.reject { |row| blocked[row[:record_id]]&.<(row[:entry_id]) }.map { |row| row[:entry_id] }
      end
    end
  end
end
