# frozen_string_literal: true

# Long work that is no rule's: open tasks that move with the calendar, what somebody who leaves hands over. note says in
# words what it is about.
Sequel.migration do
  up do
    alter_table(:jobs) do
      set_column_allow_null :rule_id
      set_column_allow_null :version_id
      add_column :note, String, text: true, null: true
    end
  end

  down do
    from(:jobs).where(rule_id: nil).delete
    alter_table(:jobs) do
      drop_column :note
      set_column_not_null :version_id
      set_column_not_null :rule_id
    end
  end
end
