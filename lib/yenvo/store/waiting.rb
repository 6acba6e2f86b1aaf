# frozen_string_literal: true

module Yenvo
  module Store
    # The queue of journal entries that no worker has settled. Claimed rows stay locked until the transaction that
    # settles them ends; a worker that dies leaves them free and nothing half done.
    class Waiting < Part
      FULL_LOOK_SECONDS = 1.0
      MAX_PAUSE = 300

      # Takes up to +limit+ entries, in order; of one record only those before which nothing waits elsewhere.
      # Must be called in a transaction.
      # @param now [Time]
      # @return [Array<Integer>] numbers of entries
      def claim(limit:, now:)
        rows = lock(limit, low_water, now)
        rows = lock(limit, 0, now) if rows.empty? && @low_water.to_i.positive?
        return [] if rows.empty?

        @low_water = rows[0][:entry_id] - 1
        without_overtaking(rows)
      end

      # Leaves entries to the worker.
      # @param entries [Array<Hash>] rows of the journal, each about a record
      def add(entries) = db[:waiting].multi_insert(entries.map { |entry| {entry_id: entry[:id], record_id: entry[:record_id]} })

      # Settles entries, in the transaction of their effects.
      def settle(ids) = db[:waiting].where(entry_id: ids).delete

      # Sets one entry aside for a growing while. Later entries of its record wait behind it.
      def set_aside(id, error, now:)
        tries = db[:waiting].where(entry_id: id).get(:tries).to_i + 1
        pause = [2**tries, MAX_PAUSE].min
        db[:waiting].where(entry_id: id).update(tries: tries, not_before: now + pause, last_error: error.to_s[0, 500])
      end

      # A look without a transaction, for a worker that mostly finds nothing.
      def none? = db[:waiting].empty?

      def count = db[:waiting].count

      private

      # InnoDB steps over the index entries of deleted rows until it has purged them; beginning behind the last claim
      # spares that. Lower numbers may still come in late, so once a second the whole queue is looked at.
      def low_water
        tick = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        return @low_water.to_i if @looked && tick - @looked < FULL_LOOK_SECONDS

        @looked = tick
        0
      end

      def lock(limit, low, now)
        db[:waiting].where { Sequel[:entry_id] > low }.where(Sequel.|({not_before: nil}, Sequel[:not_before] <= now))
          .select(:entry_id, :record_id).order(:entry_id).limit(limit).for_update.skip_locked.all
      end

      # Another worker may hold, or have set aside, an earlier entry of the same record: then ours must wait.
      # Read without locks, so that rows which others hold are seen.
      def without_overtaking(rows)
        ids = rows.map { |row| row[:entry_id] }
        records = rows.map { |row| row[:record_id] }.uniq
        blocked = db[:waiting].where(record_id: records).where { Sequel[:entry_id] < ids.max }.exclude(entry_id: ids)
          .group(:record_id).select_hash(:record_id, Sequel.function(:min, :entry_id).as(:first))
        rows.reject { |row| blocked[row[:record_id]]&.<(row[:entry_id]) }.map { |row| row[:entry_id] }
      end
    end
  end
end
