# frozen_string_literal: true

# Who sees, changes and takes away the records of each kind; fields kept for leads and administrators; and the record
# whose words a notice holds.
Sequel.migration do
  up do
    alter_table(:kinds) do
      add_column :seen_by, String, size: 20, null: false, default: "everyone"
      add_column :changed_by, String, size: 20, null: false, default: "everyone"
      add_column :taken_away_by, String, size: 20, null: false, default: "owner"
    end
    alter_table(:fields) { add_column :kept, TrueClass, null: false, default: false }
    alter_table(:notices) { add_column :words_of, :bigint, null: true }
    run "UPDATE notices SET words_of = record_id"
  end

  down do
    alter_table(:notices) { drop_column :words_of }
    alter_table(:fields) { drop_column :kept }
    alter_table(:kinds) { %i[taken_away_by changed_by seen_by].each { |name| drop_column name } }
  end
end
