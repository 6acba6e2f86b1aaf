# frozen_string_literal: true

module Yenvo
  module Store
    # What rules and kits do to tasks, and what takes that back.
    class TasksByRule < TaskSteps
      ENDS = {"done" => "task_done", "dropped" => "task_dropped"}.freeze
      private_constant :ENDS

      # What a rule changes in an open task: priority, due date, assignee or queue, state.
      # @param task [Hash] row
      # @param wanted [Effects::ChangeTasks] priority, due (Core::Due), assignee, queue, state, note
      # @return [Hash, nil] id, from and to, for taking it back; nil when it is as wanted already
      def change(task, wanted, cause:)
        to = columns_of(wanted, task, cause).reject { |name, value| task[name] == value }
        return if to.empty?

        after =
          write(
            ENDS.fetch(to[:state], "task_changed"), task, to, cause,
            assignee: to[:assignee] || task[:assignee], priority: to[:priority] && PRIORITIES[to[:priority]],
            due_on: to[:due_on]&.iso8601, state: to[:state], note: to[:note]
          )
        tell_of(after, cause, from: root.rules.names([cause.rule])[cause.rule], passed: true) if to[:assignee]
        from = TaskColumns.to_plain(task.slice(*to.keys))
        {"id" => task[:id], "from" => from, "to" => TaskColumns.to_plain(to), "version" => after[:version]}
      end

      # Puts back what a rule changed, when nobody has touched the task since.
      # @param did [Hash] as +change+ gave it
      # @param version [Integer] that the task has when nobody has touched it
      # @return [Integer, nil] the version that it has then; nil when somebody has
      def put_back(did, cause:, version: did["version"])
        task = table.where(id: did["id"], version:).for_update.first or return
        write("task_changed", task, TaskColumns.from_plain(did["from"]), cause, changed: nil, undone: true)[:version]
      end

      # Opens a task again that was dropped with its record, unless somebody has touched it since.
      # @param kept [Hash] id, state before and version after the drop
      def open_again(kept, cause:)
        task = table.where(id: kept["id"], open: false, version: kept["version"]).for_update.first or return
        write("task_changed", task, {**OPENED, state: kept["state"], note: nil}, cause, state: kept["state"])
      end

      # Gives a task of a kit other dates, since what they count from has moved.
      # @param row [Hash]
      def redate(row, columns, cause:, why:)
        now, was = columns.fetch(:due_on, row[:due_on]), row[:due_on]
        write("task_changed", row, columns, cause, due_on: now&.iso8601, due_was: was&.iso8601, moved_with: why)
      end

      # Tasks that belong to no kit any more.
      def leave_kit(ids) = table.where(id: ids).update(copy_id: nil, kit_task: nil)

      # Notes which record was opened for a task.
      def note_opened(id, record_id) = table.where(id:).update(opened_id: record_id)

      private

      def columns_of(wanted, task, cause)
        to = {}
        %w[priority due].each do |name|
          value = wanted[name.to_sym] and to.merge!(TaskColumns.written(Core::Schema::TaskField[name], value))
        end
        who = wanted.slice(:assignee, :queue)
        to.merge!(who, team: team_of(*who.values)) if who.values.any?
        to.merge(state_columns(wanted, task, cause))
      end

      def state_columns(wanted, task, cause)
        return {} unless wanted.state
        return {state: wanted.state} if wanted.state == "started"

        took = (calendar.working_minutes(task[:made_at], cause.at) if wanted.state == "done")
        {state: wanted.state, open: false, note: wanted.note, done_at: cause.at, done_by: nil, took_minutes: took}
      end
    end
  end
end
