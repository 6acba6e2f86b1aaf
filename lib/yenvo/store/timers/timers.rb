# frozen_string_literal: true

module Yenvo
  module Store
    # What comes due: one indexed row each. A row is claimed with the lock of its transaction, so that a worker that
    # dies leaves it free and nothing half done.
    class Timers < Base
      keeps :timers

      FULL_LOOK_SECONDS = 1.0
      WRITTEN_OVER = %i[version_id due_at look held_due since fired_for].freeze
      OF_RULES = %w[record task].freeze
      OF_RUNS = %w[wait ladder].freeze

      # Takes up to +limit+ rows whose moment has come, the earliest first; none of a record about which something waits
      # to be settled, or an earlier timer is in other hands. Must be called in a transaction.
      # @param now [Time]
      # @return [Array<Hash>] rows
      def claim(limit:, now:)
        [low_water, nil].uniq.each do |low|
          rows = lock(limit, low, now)
          next if rows.empty?

          @low_water = rows[0][:due_at]
          # What is held back by an earlier moment is no reason to rest: that one lies below where this look began.
          free = without_overtaking(rows, now)
          return free if free.any?
        end
        []
      end

      # A look without a transaction, for a worker that mostly finds nothing.
      def due?(now) = !table.where { due_at <= now }.empty?

      # Puts off the timer that comes next, since it could not fire.
      def set_aside(now:)
        root.transaction do
          claim(limit: 1, now:).each { |row| update(row[:id] => {due_at: now + PAUSE}) }
        end
      end
      PAUSE = 300

      # @return [Time, nil] when the next one is due
      def next_due = table.exclude(due_at: nil).min(:due_at)

      # @param rows [Array<Hash>] of one purpose; those of the same rule, record and task are overwritten
      def put(rows)
        rows.each_slice(1_000) { |some| db.run(Inserts.new(db).sql(:timers, some, over: WRITTEN_OVER)) }
      end

      # @param changes [Hash{Integer => Hash}] columns by row
      def update(changes)
        changes.group_by { |_, columns| columns }
          .each { |columns, some| table.where(id: some.map(&:first)).update(columns) }
      end

      def delete(ids) = delete_keys(:timers, :id, ids)

      # The moment for which rows fired is remembered, so that none fires for it again.
      # @param rows [Array<Hash>]
      def fired(rows)
        done, kept = rows.partition { |row| OF_RUNS.include?(row[:purpose]) }
        delete(column(done, :id))
        unless kept.empty?
          table.where(id: column(kept, :id)).update(fired_for: Sequel[:due_at], due_at: nil)
        end
      end

      # All timers about a record that is taken away.
      def record_gone(_type, image, _entry, _cause) =
        delete(table.where(record_id: image["id"]).select_map(:id))

      # @return [Array<Hash>] the rows that are gone
      def end_of_run(run_id)
        rows = table.where(run_id:).all
        delete(column(rows, :id))
        rows
      end

      # @param columns [Hash]
      # @return [Integer] id
      def add(columns) = table.insert(columns)

      # Waits and ladders end with their task, and look again when its dates have moved or it is open again. In the
      # caller's transaction.
      # @param task [Hash] row after the change
      # @param changed [Array<String>, nil] what has changed: "due", "state"
      def task_changed(task, changed, cause)
        return if (Array(changed) & %w[due state]).empty?

        rows = table.where(task_id: task[:id], purpose: OF_RUNS)
        task[:open] ? rows.update(due_at: cause.at, look: true) : rows.update(due_at: nil, look: false)
      end

      # Rows of a paused rule are set aside one after the other as they come due, so that they are in nobody's way.
      def hold(ids) =
        if ids.empty?
          0
        else
          table.where(id: ids).update(held_due: Sequel.function(:coalesce, :held_due, :due_at), due_at: nil)
        end

      # @return [Integer] timers of a paused rule that came due meanwhile
      def held(rule_id, now:) = held_rows(rule_id, now).sum(&:count)

      # @param late [Boolean] whether they fire now, marked late, or never
      def release(rule_id, late:, now:)
        # A schedule, and a rule that waits for days, look for their next one.
        again = {due_at: root.in_force.timed(root.epoch).find(rule_id)&.timing&.again? ? now : nil, look: true}
        held_rows(rule_id, now).each do |rows|
          next rows.update(due_at: Sequel.function(:coalesce, :held_due, :due_at), held_due: nil) if late

          rows.where(purpose: OF_RUNS).delete
          rows.update(fired_for: Sequel.function(:coalesce, :held_due, :due_at), **again, held_due: nil)
        end
      end

      # Where a rule has timers among records, for building them; of a rule about tasks, among tasks.
      # @param ids [Array<Integer>]
      # @param at [Time]
      # @return [Array<TimerPlace>]
      def places(rule, ids, at:)
        pairs = lanes(rule, ids)
        sinces = rule.timing.is_a?(Core::Timing::ByQuiet) ? root.silences.since(rule.timing.trigger, pairs) : {}
        pairs.map do |lane, task|
          TimerPlace.new(rule:, record: lane, task:, at:, since: sinces[[lane, task]])
        end
      end

      # Rows of earlier versions whose records do not come into a rule any more.
      def drop_old(rule_id, version_id) =
        table.where(rule_id:, purpose: OF_RULES).exclude(version_id:).delete

      # @return [Array<Hash>] rows of rules for records or tasks
      def of(rule_ids, record_ids)
        return [] if record_ids.empty?

        table.where(purpose: OF_RULES, record_id: record_ids.uniq, rule_id: rule_ids.uniq).all
      end

      # The rows of one rule among records that follow each other, which is how they are built.
      # @return [Array<Hash>]
      def between(rule_id, from, to) = table.where(rule_id:, record_id: from..to, purpose: OF_RULES).all

      # @return [Array<Hash>] open waits and ladders about records
      def later_of(record_ids) =
        if record_ids.empty?
          []
        else
          table.where(record_id: record_ids.uniq, purpose: OF_RUNS).exclude(due_at: nil).all
        end

      # @return [Array<Hash>] ladders that a task climbs
      def of_task(task_id) =
        table.where(task_id:, purpose: "ladder").exclude(due_at: nil).order(:due_at).all

      # @return [Array<Hash>] all that is to come about a record
      def about(record_id) = table.where(record_id:).all

      # @return [Array<Hash>] the next of a rule
      def next_of_rule(rule_id, limit:) =
        table.where(rule_id:, look: false).exclude(due_at: nil).order(:due_at, :id).limit(limit).all

      # @return [Array<Hash>] the next of all rules
      def coming(from:, till:, limit:) =
        table.where(look: false).where { (due_at > from) & (due_at <= till) }.order(:due_at, :id).limit(limit).all

      # @return [Array<Hash>] those of a rule that will fire after a moment
      def standing(rule_id, after:, limit:) =
        table.where(rule_id:).exclude(purpose: OF_RUNS).where { due_at > after }.order(:id).limit(limit).all

      # @return [Hash, nil] the one row of a schedule
      def of_schedule(rule_id) = table.where(rule_id:, purpose: "rule").first

      private

      # @return [Array<Array(Integer, Integer)>] lane, and task (0 for a record itself)
      def lanes(rule, ids)
        return ids.map { |id| [id, 0] } unless rule.timing.per == :task
        return root.task_rows.open_of(ids) unless rule.kind.task?

        root.task_rows.by_id(ids).values.map { |row| [Lane.of(*row.values_at(:record_id, :id)), row[:id]] }
      end

      # Those that were set aside, and those that have come due but were not met yet; each by an index of its own.
      def held_rows(rule_id, now)
        rows = table.where(rule_id:)
        [rows.exclude(held_due: nil), rows.where { due_at <= now }]
      end

      # InnoDB steps over index entries of rows that have moved on until it has purged them; beginning at the last claim
      # spares that. Earlier moments may still come in, so once a second all is looked at.
      def low_water
        tick = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        return @low_water if @looked && tick - @looked < FULL_LOOK_SECONDS

        @looked = tick
        nil
      end

      def lock(limit, low, now)
        found = table.where { due_at <= now }
        found = found.where { due_at >= low } if low
        busy = db[:waiting].where(record_id: Sequel[:timers][:record_id]).select(1)
        found.exclude(busy.exists).order(:due_at, :id).limit(limit).for_update.skip_locked.all
      end

      # Read without locks, so that rows which others hold are seen.
      def without_overtaking(rows, now)
        # Of one record only the first, so that the next sees what that has done.
        rows = rows.uniq { |row| row[:record_id].zero? ? [row[:id]] : row[:record_id] }
        records = column(rows, :record_id) - [0]
        return rows if records.empty?

        others =
          table.where(record_id: records).where { due_at <= now }.exclude(id: column(rows, :id))
            .group(:record_id).select_hash(:record_id, Sequel.function(:min, :due_at).as(:first))
        rows.reject { |row| others[row[:record_id]]&.<(row[:due_at]) }
      end
    end
  end
end
