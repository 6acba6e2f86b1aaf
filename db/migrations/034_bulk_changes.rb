# frozen_string_literal: true

# Many records that are changed together: which, what became of each, and how it was, so that all of it is undone as one
# for a week.
Sequel.migration do
  change do
    create_table(:bulk_changes) do
      primary_key :id, type: :bigint
      String :kind, size: 80, null: false
      # set, list, take_off, rule or trash; with the field and its plain value as JSON, or the list or rule.
      String :what, size: 20, null: false
      String :field, size: 64, null: true
      column :value, :mediumtext, null: true
      String :state, size: 20, null: false
      column :job_id, :bigint, null: true
      String :failed, size: 500, null: true
      String :by, size: 64, null: false
      DateTime :at, null: false, size: 6
      DateTime :ended_at, null: true, size: 6
      index %i[by id], name: :bulk_changes_of_person
      index [:at], name: :bulk_changes_by_day
    end
    create_table(:bulk_rows) do
      primary_key :id, type: :bigint
      foreign_key :bulk_id, :bulk_changes, type: :bigint, null: false, on_delete: :cascade
      column :record_id, :bigint, null: false
      # waiting, changed, same, refused; back or stayed once it is undone.
      String :state, size: 10, null: false, default: "waiting"
      # What was and is, and the entries of the journal that it made.
      column :did, :mediumtext, null: true
      String :reason, size: 500, null: true
      index %i[bulk_id record_id], name: :bulk_rows_once, unique: true
      index %i[bulk_id state record_id], name: :bulk_rows_of_state
      index [:record_id], name: :bulk_rows_of_record
    end
  end
end
