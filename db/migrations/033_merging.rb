# frozen_string_literal: true

# Records that were merged into one: how it and the others were, and what was moved, so that they can be parted for 30
# days; after that only what became of which number. And those that look alike and were said not to be the same.
Sequel.migration do
  change do
    create_table(:merges) do
      primary_key :id, type: :bigint
      String :kind, size: 80, null: false
      column :kept_id, :bigint, null: false
      String :by, size: 64, null: true
      DateTime :at, null: false, size: 6
      # Fields of the one that stays that were changed, as they were and as they became; nil once they cannot be parted.
      column :changed, :mediumtext, null: true
      DateTime :parted_at, null: true, size: 6
      String :parted_by, size: 64, null: true
      index %i[kept_id id], name: :merges_into
      index [:at], name: :merges_by_day
    end
    create_table(:merged) do
      primary_key :id, type: :bigint
      foreign_key :merge_id, :merges, type: :bigint, null: false, on_delete: :cascade
      column :record_id, :bigint, null: false
      column :kept_id, :bigint, null: false
      # How it was; nil once it cannot be parted.
      column :image, :mediumtext, null: true
      index [:record_id], name: :merged_records
      index [:kept_id], name: :merged_into
    end
    create_table(:merge_moves) do
      primary_key :id, type: :bigint
      foreign_key :merge_id, :merges, type: :bigint, null: false, on_delete: :cascade
      # The table and column, or what else was moved.
      String :what, size: 40, null: false
      column :ref, :bigint, null: false
      # The record from which it came.
      column :record_id, :bigint, null: false
      String :field, size: 64, null: true
      index %i[merge_id what], name: :merge_moves_of
    end
    create_table(:not_alike) do
      column :one_id, :bigint, null: false
      column :other_id, :bigint, null: false
      String :by, size: 64, null: false
      DateTime :at, null: false, size: 6
      primary_key %i[one_id other_id]
      index [:other_id], name: :not_alike_other
      foreign_key [:one_id], :records, on_delete: :cascade
      foreign_key [:other_id], :records, on_delete: :cascade
    end
  end
end
