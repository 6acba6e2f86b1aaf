# frozen_string_literal: true

# Doors by which programs come in, each with its table of fields; what came in by them, each event once.
Sequel.migration do
  up do
    create_table(:doors) do
      String :key, size: 80, primary_key: true
      String :name, size: 120, null: false
      # Of the records that come of it.
      String :kind, size: 64, null: false
      # Under which programs send; it tells nothing.
      String :address, size: 40, null: false, unique: true
      # With which they show who they are, by itself or by a signature.
      String :secret, size: 120, null: false
      column :map, :mediumtext, null: false
      TrueClass :open, null: false, default: false
      Integer :per_minute, null: true
      # What a message looks like: the last that came, or one that was written.
      column :sample, :mediumtext, null: true
      String :written_by, size: 64, null: true
      DateTime :written_at, null: false, size: 6
      DateTime :retired_at, null: true, size: 6
    end
    create_table(:arrivals) do
      primary_key :id, type: :bigint
      String :door, size: 80, null: false
      # Of source and id, which together are never the same for two events (CloudEvents 1.0).
      String :digest, size: 64, null: false
      String :source, size: 500, null: false
      String :event_id, size: 500, null: false
      String :type, size: 500, null: false
      column :body, :mediumtext, null: false
      # taken, refused or away
      String :state, size: 20, null: false
      String :reason, size: 1_000, null: true
      # What is wrong, by field.
      column :fields, :mediumtext, null: true
      column :record_id, :bigint, null: true
      TrueClass :made, null: false, default: false
      DateTime :at, null: false, size: 6
      DateTime :settled_at, null: true, size: 6
      String :settled_by, size: 64, null: true
      index %i[door digest], name: :arrivals_once, unique: true
      index %i[state id], name: :arrivals_of_state
      index %i[door state id], name: :arrivals_of_door
      index [:record_id], name: :arrivals_of_record
      index [:at], name: :arrivals_by_day
    end
    alter_table(:kinds) { drop_column :program_door }
  end

  down do
    alter_table(:kinds) { add_column :program_door, String, size: 64, null: true }
    drop_table(:arrivals, :doors)
  end
end
