# frozen_string_literal: true

# Rules with their versions, the runs they had, and the tasks.
Sequel.migration do
  change do
    create_table(:rules) do
      primary_key :id, type: :Bignum
      String :key, size: 120, null: false, unique: true
      String :name, size: 120, null: false
      String :kind, size: 80, null: false
      String :state, size: 20, null: false
      Integer :position, null: false
      String :owner, size: 64, null: true
      column :draft, :mediumtext, null: true
      Integer :draft_stamp, null: false, default: 0
      String :draft_by, size: 64, null: true
      DateTime :draft_at, null: true, size: 6
      column :version_id, :bigint, null: true
      DateTime :made_at, null: false, size: 6
      index [:position, :id], name: :rules_in_order
    end

    create_table(:rule_versions) do
      primary_key :id, type: :Bignum
      foreign_key :rule_id, :rules, type: :Bignum, null: false
      Integer :number, null: false
      column :body, :mediumtext, null: false
      String :published_by, size: 64, null: true
      DateTime :published_at, null: false, size: 6
      unique [:rule_id, :number], name: :one_version_a_number
    end

    # From which epoch on (until which, not counted in) a version is in force.
    create_table(:rule_spans) do
      primary_key :id, type: :Bignum
      foreign_key :rule_id, :rules, type: :Bignum, null: false
      foreign_key :version_id, :rule_versions, type: :Bignum, null: false
      column :from_epoch, :bigint, null: false
      column :to_epoch, :bigint, null: true
      index [:to_epoch, :from_epoch], name: :spans_in_force
    end

    create_table(:runs) do
      primary_key :id, type: :Bignum
      foreign_key :rule_id, :rules, type: :Bignum, null: false
      foreign_key :version_id, :rule_versions, type: :Bignum, null: false
      column :entry_id, :bigint, null: false
      column :record_id, :bigint, null: false
      String :state, size: 10, null: false
      String :branches, size: 200, null: false
      String :why, size: 1000, null: false
      String :once_key, size: 80, null: true
      Integer :task_count, null: false, default: 0
      Integer :depth, null: false, default: 0
      DateTime :at, null: false, size: 6
      column :tests, :mediumtext, null: false
      column :actions, :mediumtext, null: false
      unique [:entry_id, :rule_id], name: :one_run_an_event
      unique [:rule_id, :once_key], name: :one_run_a_stretch
      index [:record_id, :id], name: :runs_of_record
      index [:rule_id, :at], name: :runs_of_rule
      index [:at, :id], name: :runs_newest_first
    end

    create_table(:tasks) do
      primary_key :id, type: :Bignum
      String :title, size: 500, null: false
      column :text, :mediumtext, null: true
      String :web_link, size: 500, null: true
      String :way, size: 20, null: false
      Integer :priority, null: false
      String :state, size: 10, null: false
      TrueClass :open, null: false, default: true
      String :assignee, size: 64, null: true
      String :queue, size: 64, null: true
      String :team, size: 64, null: true
      Date :start_on, null: true
      DateTime :remind_at, null: true, size: 6
      Date :due_on, null: true
      Integer :due_minutes, null: true
      DateTime :due_at, null: false, size: 6
      Integer :place, null: true
      column :record_id, :bigint, null: true
      column :parent_id, :bigint, null: true
      String :answers, text: true, null: false
      String :answer, size: 60, null: true
      column :note, :text, null: true
      column :run_id, :bigint, null: true
      column :rule_id, :bigint, null: true
      String :branch, size: 20, null: true
      Integer :action, null: true
      String :made_by, size: 64, null: true
      DateTime :made_at, null: false, size: 6
      DateTime :done_at, null: true, size: 6
      String :done_by, size: 64, null: true
      Integer :took_minutes, null: true
      Integer :version, null: false, default: 1
      index [:assignee, :open, :due_at, :id], name: :tasks_of_person
      index [:queue, :open, :due_at, :id], name: :tasks_of_queue
      index [:open, :due_at, :id], name: :tasks_by_due
      index [:record_id, :open, :due_at], name: :tasks_of_record
      index [:run_id], name: :tasks_of_run
      index [:parent_id], name: :tasks_of_parent
      index [:rule_id, :open, :done_at], name: :tasks_of_rule
      index [:assignee, :done_at], name: :tasks_done
    end
  end
end
