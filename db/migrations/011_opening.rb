# frozen_string_literal: true

# The one-time code with which an empty house is opened; there is one row at most.
Sequel.migration do
  change do
    create_table(:opening) do
      Integer :id, primary_key: true
      String :digest, size: 64, null: false
      DateTime :until_at, size: 6, null: false
      Integer :tries, null: false, default: 0
    end
  end
end
