# frozen_string_literal: true

# What a message of a rule is called in the history of its record, which tells of it beside what the rule met; so far it
# had an entry of its own in the journal.
Sequel.migration do
  up { alter_table(:deliveries) { add_column :words, String, size: 500, null: true } }
  down { alter_table(:deliveries) { drop_column :words } }
end
