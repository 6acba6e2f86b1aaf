# frozen_string_literal: true

# On what each session was begun, as the browser calls itself.
Sequel.migration do
  change { alter_table(:account_active_session_keys) { add_column :device, String, size: 300, null: true } }
end
