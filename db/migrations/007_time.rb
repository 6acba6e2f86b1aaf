# frozen_string_literal: true

# Timers, waits and ladders, and the clock of the demo.
Sequel.migration do
  change do
    # One row for each thing that comes due: of a rule for a record or a task (or for none, 0), and of a run for a wait
    # or a ladder. due_at: when to fire, NULL when nothing is to come; look: only to look again then; held_due: when it
    # would have fired while its rule was paused; since: from when it counts; fired_for: the last moment for which it
    # fired; data:
    # what a wait has to remember of its event.
    create_table(:timers) do
      primary_key :id, type: :Bignum
      column :rule_id, :bigint, null: false
      column :version_id, :bigint, null: false
      String :purpose, size: 10, null: false
      String :kind, size: 80, null: false
      column :record_id, :bigint, null: false, default: 0
      column :task_id, :bigint, null: false, default: 0
      column :run_id, :bigint, null: false, default: 0
      String :branch, size: 20, null: false, default: ""
      Integer :action, null: false, default: 0
      Integer :step, null: false, default: 0
      DateTime :due_at, null: true, size: 6
      TrueClass :look, null: false, default: false
      DateTime :held_due, null: true, size: 6
      DateTime :since, null: true, size: 6
      DateTime :fired_for, null: true, size: 6
      Integer :depth, null: false, default: 0
      column :data, :mediumtext, null: true
      unique [:rule_id, :record_id, :task_id, :run_id, :branch, :action], name: :one_timer_a_purpose
      index [:due_at, :id], name: :timers_next_due
      index [:record_id, :due_at], name: :timers_of_record
      index [:rule_id, :due_at], name: :timers_of_rule
      index [:rule_id, :held_due], name: :timers_held
      index [:task_id], name: :timers_of_task
      index [:run_id], name: :timers_of_run
    end

    # A schedule that fires once is about no record.
    alter_table(:runs) { set_column_allow_null :record_id }

    alter_table(:records) { add_index [:kind, :id], name: :records_of_kind }

    # One row where the clock may be moved, which is in the demo alone: by how many seconds it is ahead of the real one,
    # and the moment at which it stands while it is being moved.
    create_table(:moved_clock) do
      Integer :id, null: false, primary_key: true
      column :ahead, :double, null: false
      DateTime :stands_at, size: 6, null: true
    end
  end
end
