# frozen_string_literal: true

# What the whole rule language needs: worked-out fields, links of the past, notices, fuses, jobs, undo.
Sequel.migration do
  change do
    alter_table(:fields) { add_column :formula, String, size: 500, null: true }
    # Whether visitors and programs outside may send entries for a list.
    alter_table(:kinds) { add_column :open_door, TrueClass, null: false, default: false }
    alter_table(:links) { add_column :entry_id, :bigint, null: false, default: 0 }

    # Links that are no more, so that what led to a record at an earlier entry is known.
    create_table(:past_links) do
      column :record_id, :bigint, null: false
      String :field, size: 64, null: false
      column :target_id, :bigint, null: false
      column :from_entry, :bigint, null: false
      column :to_entry, :bigint, null: false
      index [:target_id, :field, :to_entry], name: :past_links_to_target
    end

    # Records whose place in the index of worked-out fields has to be looked at again, on or after a day.
    create_table(:stale) do
      column :record_id, :bigint, null: false, primary_key: true
      Date :on_date, null: false
      index [:on_date, :record_id], name: :stale_by_day
    end

    alter_table(:interactions) do
      add_column :edited_at, DateTime, size: 6, null: true
      add_column :run_id, :bigint, null: true
    end

    alter_table(:runs) do
      add_column :event_at, DateTime, size: 6, null: true
      add_column :started, TrueClass, null: false, default: false
      add_column :undone_at, DateTime, size: 6, null: true
      add_column :undone_by, String, size: 64, null: true
      add_index [:rule_id, :record_id, :id], name: :runs_of_rule_and_record
    end

    alter_table(:rules) { add_column :paused_because, String, size: 300, null: true }

    # A fuse that has blown: entries of earlier epochs that wait are not met any more.
    create_table(:fuses) do
      primary_key :id, type: :Bignum
      foreign_key :rule_id, :rules, type: :Bignum, null: false, on_delete: :cascade
      column :epoch, :bigint, null: false
      DateTime :blown_at, null: false, size: 6
      String :why, size: 300, null: false
      index [:rule_id, :epoch], name: :fuses_of_rule
    end

    create_table(:notices) do
      primary_key :id, type: :Bignum
      String :person, size: 64, null: false
      String :text, size: 500, null: false
      column :record_id, :bigint, null: true
      column :rule_id, :bigint, null: true
      column :run_id, :bigint, null: true
      DateTime :at, null: false, size: 6
      DateTime :read_at, null: true, size: 6
      index [:person, :read_at, :id], name: :notices_unread
      index [:person, :id], name: :notices_of_person
      index [:run_id], name: :notices_of_run
    end

    # Long work with progress, such as running a rule on all records that match now.
    create_table(:jobs) do
      primary_key :id, type: :Bignum
      String :what, size: 20, null: false
      foreign_key :rule_id, :rules, type: :Bignum, null: false, on_delete: :cascade
      column :version_id, :bigint, null: false
      String :state, size: 10, null: false
      Integer :total, null: false
      Integer :looked_at, null: false, default: 0
      Integer :started, null: false, default: 0
      String :filter, text: true, null: false
      String :place, text: true, null: true
      String :by, size: 64, null: true
      DateTime :at, null: false, size: 6
      DateTime :ended_at, null: true, size: 6
      index [:state, :id], name: :jobs_in_line
      index [:rule_id, :id], name: :jobs_of_rule
    end

    # Records on which a version was run by a job, so that none is met twice.
    create_table(:job_records) do
      column :version_id, :bigint, null: false
      column :record_id, :bigint, null: false
      column :job_id, :bigint, null: false
      primary_key [:version_id, :record_id]
    end
  end
end
