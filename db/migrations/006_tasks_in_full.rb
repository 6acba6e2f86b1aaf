# frozen_string_literal: true

# What kits, turns, loads and the worklist need.
Sequel.migration do
  change do
    # Working hours in percent of the full ones.
    alter_table(:people) { add_column :hours, Integer, null: false, default: 100 }

    # Whose turn it was in a team: the greatest number had it last.
    create_table(:turns) do
      String :team, size: 64, null: false
      String :person, size: 64, null: false
      column :last, :bigint, null: false
      primary_key [:team, :person]
    end

    alter_table(:rules) do
      add_column :mark, String, size: 2, null: true
      add_column :ink, String, size: 10, null: true
    end

    create_table(:kits) do
      primary_key :id, type: :Bignum
      String :key, size: 120, null: false, unique: true
      String :name, size: 120, null: false
      String :kind, size: 80, null: false
      String :mark, size: 2, null: true
      String :ink, size: 10, null: true
      Integer :position, null: false
      String :owner, size: 64, null: true
      column :draft, :mediumtext, null: true
      Integer :draft_stamp, null: false, default: 0
      String :draft_by, size: 64, null: true
      DateTime :draft_at, null: true, size: 6
      column :version_id, :bigint, null: true
      TrueClass :retired, null: false, default: false
      DateTime :made_at, null: false, size: 6
      index [:position, :id], name: :kits_in_order
    end

    create_table(:kit_versions) do
      primary_key :id, type: :Bignum
      foreign_key :kit_id, :kits, type: :Bignum, null: false
      Integer :number, null: false
      column :body, :mediumtext, null: false
      String :published_by, size: 64, null: true
      DateTime :published_at, null: false, size: 6
      unique [:kit_id, :number], name: :one_kit_version_a_number
    end

    # A kit in use on a record. It keeps the version it began with. passed: keys of tasks that somebody skipped.
    create_table(:kit_copies) do
      primary_key :id, type: :Bignum
      foreign_key :kit_id, :kits, type: :Bignum, null: false
      foreign_key :version_id, :kit_versions, type: :Bignum, null: false
      column :record_id, :bigint, null: false
      String :kind, size: 80, null: false
      String :state, size: 10, null: false
      DateTime :anchor, null: true, size: 6
      Date :anchor_on, null: true
      String :anchor_field, size: 64, null: true
      String :passed, text: true, null: false
      column :run_id, :bigint, null: true
      column :rule_id, :bigint, null: true
      column :task_id, :bigint, null: true
      String :begun_by, size: 64, null: true
      DateTime :begun_at, null: false, size: 6
      DateTime :ended_at, null: true, size: 6
      index [:record_id, :state], name: :copies_of_record
      index [:kit_id, :state, :id], name: :copies_of_kit
      index [:version_id, :state], name: :copies_of_version
      index [:task_id], name: :copies_of_task
      index [:run_id], name: :copies_of_run
    end

    alter_table(:tasks) do
      add_column :kind, String, size: 80, null: true
      add_column :kit_id, :bigint, null: true
      add_column :copy_id, :bigint, null: true
      add_column :kit_task, String, size: 64, null: true
      add_column :redated, TrueClass, null: false, default: false
      add_column :late_noted, TrueClass, null: false, default: false
      add_column :log_done, TrueClass, null: false, default: false
      add_column :opened_id, :bigint, null: true
      add_index [:copy_id], name: :tasks_of_copy
      add_index [:opened_id], name: :tasks_that_opened
      add_index [:late_noted, :open, :due_at], name: :tasks_getting_late
      add_index [:kind, :open, :due_at, :id], name: :tasks_of_kind
      add_index [:team, :open, :due_at, :id], name: :tasks_of_team
      add_index [:done_at, :id], name: :tasks_newly_done
      add_index [:queue, :made_at], name: :tasks_into_queue
      add_index [:rule_id, :open, :due_at, :id], name: :tasks_of_rule_by_due
    end
    run "ALTER TABLE tasks ADD FULLTEXT INDEX tasks_by_words (title, text)"

    create_table(:comments) do
      primary_key :id, type: :Bignum
      foreign_key :task_id, :tasks, type: :Bignum, null: false, on_delete: :cascade
      String :by, size: 64, null: true
      DateTime :at, null: false, size: 6
      column :text, :text, null: false
    end

    # Files stand outside the database, under a name of their own.
    create_table(:attachments) do
      primary_key :id, type: :Bignum
      foreign_key :task_id, :tasks, type: :Bignum, null: false, on_delete: :cascade
      String :name, size: 200, null: false
      String :type, size: 100, null: false
      Integer :size, null: false
      String :file, size: 64, null: false
      String :by, size: 64, null: true
      DateTime :at, null: false, size: 6
    end

    create_table(:presets) do
      primary_key :id, type: :Bignum
      String :name, size: 60, null: false, unique: true
      String :text, size: 2_000, null: false
      String :by, size: 64, null: true
      DateTime :at, null: false, size: 6
    end

    # A task that waits for the person who caused it to send it or throw it away. Nothing is made before.
    create_table(:proposals) do
      primary_key :id, type: :Bignum
      String :person, size: 64, null: false
      column :record_id, :bigint, null: true
      column :rule_id, :bigint, null: false
      column :run_id, :bigint, null: false
      column :task, :mediumtext, null: false
      String :state, size: 10, null: false, default: "open"
      DateTime :at, null: false, size: 6
      DateTime :settled_at, null: true, size: 6
      column :task_id, :bigint, null: true
      index [:person, :state, :id], name: :proposals_of_person
      index [:run_id], name: :proposals_of_run
    end

    alter_table(:notices) { add_column :task_id, :bigint, null: true }
  end
end
