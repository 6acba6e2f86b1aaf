# frozen_string_literal: true

# Fields that have to be filled in, stand once among the records of a kind, begin with a value, are explained, and stand
# in groups.
Sequel.migration do
  up do
    alter_table(:fields) do
      add_column :required, TrueClass, null: false, default: false
      add_column :unique, TrueClass, null: false, default: false
      add_column :default_value, String, text: true, null: true
      add_column :help, String, size: 300, null: true
      add_column :group, String, size: 60, null: true
    end
    create_table(:unique_values) do
      String :kind, size: 80, null: false
      String :field, size: 64, null: false
      column :num, :double, null: false, default: 0
      # As it is, so that what differs by an accent alone is not the same.
      column :word, "varchar(64) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin", null: false, default: ""
      column :record_id, :bigint, null: false
      primary_key [:kind, :field, :num, :word]
      index [:record_id, :field], name: :unique_values_of_record
    end
  end

  down do
    drop_table(:unique_values)
    alter_table(:fields) { %i[group help default_value unique required].each { |name| drop_column name } }
  end
end
