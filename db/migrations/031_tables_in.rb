# frozen_string_literal: true

# Tables that are brought in: what was given, how it is read, what is wrong with it, and what was written, so that it
# can be taken back for a week.
Sequel.migration do
  up do
    create_table(:imports) do
      primary_key :id, type: :bigint
      String :name, size: 200, null: false
      String :kind, size: 64, null: false
      # Under which it stands in the folder of files; nil once it is forgotten.
      String :file, size: 64, null: true
      column :size, :bigint, null: false
      # How it is read, and what goes where.
      column :plan, :mediumtext, null: false
      String :state, size: 20, null: false
      # Whether rules meet what it makes.
      TrueClass :rules, null: false, default: false
      # Where to go on: byte and line.
      column :place, :bigint, null: false, default: 0
      Integer :line, null: false, default: 0
      # Of the last look, and of what was written.
      column :looked, :mediumtext, null: true
      column :written, :mediumtext, null: true
      column :job_id, :bigint, null: true
      # Why it could not go on.
      String :failed, size: 500, null: true
      String :by, size: 64, null: false
      DateTime :at, null: false, size: 6
      DateTime :ended_at, null: true, size: 6
      index %i[by id], name: :imports_of_person
      index [:at], name: :imports_by_day
    end
    create_table(:import_rows) do
      foreign_key :import_id, :imports, type: :bigint, null: false, on_delete: :cascade
      Integer :line, null: false
      column :record_id, :bigint, null: false
      # The version that it wrote, and of a changed one what was and what is.
      Integer :version, null: false
      column :changed, :mediumtext, null: true
      primary_key %i[import_id line]
      index [:record_id], name: :import_rows_of_record
    end
    create_table(:import_refusals) do
      primary_key :id, type: :bigint
      foreign_key :import_id, :imports, type: :bigint, null: false, on_delete: :cascade
      Integer :line, null: false
      column :problems, :mediumtext, null: false
      column :cells, :mediumtext, null: false
      index %i[import_id id], name: :import_refusals_in_order
    end
    # What a look has met already, to know it when it comes again.
    create_table(:import_seen) do
      foreign_key :import_id, :imports, type: :bigint, null: false, on_delete: :cascade
      String :digest, size: 32, null: false
      primary_key %i[import_id digest]
    end
  end

  down { drop_table(:import_seen, :import_refusals, :import_rows, :imports) }
end
