# frozen_string_literal: true

# Under which private address the calendar of each person's tasks is read by other programs.
Sequel.migration do
  change do
    create_table(:calendar_feeds) do
      String :person, size: 64, primary_key: true
      String :token, size: 64, null: false, unique: true
      # Whether tasks with a time are events, too.
      TrueClass :events, null: false, default: false
      DateTime :made_at, null: false, size: 6
    end
  end
end
