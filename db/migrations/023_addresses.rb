# frozen_string_literal: true

# What rules send: of which run each message is, where it can go, how many a minute; and how persons are reached.
Sequel.migration do
  up do
    create_table(:addresses) do
      String :key, size: 64, primary_key: true
      String :name, size: 120, null: false
      # board or call
      String :way, size: 20, null: false
      String :url, size: 500, null: false
      # With which calls are signed; the second while one takes the place of the other.
      String :secret, size: 120, null: true
      String :second_secret, size: 120, null: true
      column :fields, :mediumtext, null: false, default: "{}"
      Integer :per_minute, null: true
      DateTime :retired_at, null: true, size: 6
    end
    # How many have gone to a destination within one minute.
    create_table(:paces) do
      String :destination, size: 200, primary_key: true
      DateTime :minute, null: false
      Integer :used, null: false, default: 0
    end
    alter_table(:deliveries) do
      add_column :rule_id, :bigint, null: true
      add_column :run_id, :bigint, null: true
      add_column :record_id, :bigint, null: true
      # The row and number of the action that wrote it.
      add_column :branch, String, size: 20, null: true
      add_column :action, Integer, null: true
      add_column :depth, Integer, null: false, default: 0
      # While a sender has it in hand.
      add_column :held_till, DateTime, null: true, size: 6
      add_index [:run_id], name: :deliveries_of_run
      add_index [:rule_id, :id], name: :deliveries_of_rule
      add_index [:record_id, :id], name: :deliveries_of_record
      add_index [:state, :id], name: :deliveries_of_state
      add_index [:made_at], name: :deliveries_by_day
    end
    # What waits to be sent is a task or a message.
    alter_table(:proposals) do
      set_column_allow_null :task
      add_column :message, :mediumtext, null: true
      add_column :delivery_id, :bigint, null: true
    end
    alter_table(:people) { add_column :phone, String, size: 60, null: true }
  end

  down do
    alter_table(:people) { drop_column :phone }
    from(:proposals).where(task: nil).delete
    alter_table(:proposals) do
      drop_column :delivery_id
      drop_column :message
      set_column_not_null :task
    end
    alter_table(:deliveries) do
      drop_index :made_at, name: :deliveries_by_day
      drop_index %i[state id], name: :deliveries_of_state
      drop_index %i[record_id id], name: :deliveries_of_record
      drop_index %i[rule_id id], name: :deliveries_of_rule
      drop_index :run_id, name: :deliveries_of_run
      %i[held_till depth action branch record_id run_id rule_id].each { |name| drop_column name }
    end
    drop_table(:paces, :addresses)
  end
end
