# frozen_string_literal: true

module Yenvo
  module Store
    # What every step of a task has in common, whoever takes it: its columns are written, and the journal keeps what it
    # was and what it is.
    class TaskSteps < TaskRows
      CHANGES = {
        "assignee" => %i[assignee queue], "due" => %i[due_on due_minutes], "priority" => %i[priority],
        "state" => %i[state]
      }.freeze
      OPENED = {open: true, done_at: nil, done_by: nil, late_noted: false}.freeze
      private_constant :CHANGES, :OPENED

      private

      # Writes a step, in the caller's transaction.
      # @param what [String] as the journal has it
      # @param task [Hash] row before the step
      # @param changes [Hash{Symbol => Object}] columns
      # @param detail [Hash] what else the journal keeps of it
      # @return [Hash] the row after it
      def write(what, task, changes, cause, before: nil, **detail)
        table.where(id: task[:id]).update(**changes, **anew(changes), version: task[:version] + 1)
        after = find!(task[:id])
        log(what, task, after, cause, {title: task[:title], changed: changed(task, after), **detail}, before)
        after
      end

      # A new due date may pass anew, and a new reminder is told anew.
      def anew(changes)
        also = {}
        also[:late_noted] = false if changes.key?(:due_at)
        also[:reminded] = false if changes.key?(:remind_at)
        also
      end

      # @return [Array<String>] what of a task differs, in the words of the trigger
      def changed(before, after) =
        CHANGES.filter_map { |name, columns| name if before.values_at(*columns) != after.values_at(*columns) }

      def log(what, earlier, task, cause, detail, before)
        record = task[:record_id] && root.records.lock(task[:record_id])
        about = record ? {record_id: record[:id], kind: record[:kind]} : {}
        detail = detail.compact.merge(seen_step(earlier, task, cause))
        root.happened.task_changed(task, detail[:changed], cause)
        root.journal.add(what, cause, task_id: task[:id], **about, before:, detail:)
        root.happened.tasks_touched([[record[:kind], record[:id]]], cause.at) if record
      end

      # The task after a step, and what it was before where it differs, as rules see it.
      def seen_step(earlier, task, cause)
        was, now = [earlier, task].map { |row| seen(row, cause.at) }
        changed = (was.keys | now.keys).reject { |key| was[key] == now[key] }
        {task: now, task_was: changed.to_h { |key| [key, was[key]] }}
      end

      # @param from [String, nil] name of the rule that gave it
      def tell_of(row, cause, from: nil, passed: false) =
        root.told.given([Told::Given.new(row:, cause:, from:, passed:)])
    end
  end
end
