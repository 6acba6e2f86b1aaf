# frozen_string_literal: true

# The trail goes by the moment of a run, so that a day long past is found as fast as today; a list can be taken away.
Sequel.migration do
  change do
    alter_table(:runs) do
      drop_index %i[state id], name: :runs_of_state
      add_index %i[state at id], name: :runs_of_state
    end
    alter_table(:kinds) { add_column :removed_at, DateTime, size: 6, null: true }
  end
end
