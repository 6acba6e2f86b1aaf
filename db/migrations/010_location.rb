# frozen_string_literal: true

# Where a task is to be done.
Sequel.migration do
  change do
    alter_table(:tasks) { add_column :location, String, size: 500, null: true }
  end
end
