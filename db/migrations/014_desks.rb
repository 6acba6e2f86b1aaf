# frozen_string_literal: true

# Persons in several teams; queues that take some kinds only, in an order of their own; teams and queues that are
# retired; hours that somebody works.
Sequel.migration do
  up do
    create_table(:memberships) do
      foreign_key :person, :people, type: "varchar(64)", null: false, on_delete: :cascade
      foreign_key :team, :teams, type: "varchar(64)", null: false, on_delete: :cascade
      primary_key [:person, :team]
      index [:team, :person], name: :memberships_of_team
    end
    from(:memberships).insert(
      %i[person team], from(:people).exclude(team: nil).select(:key, :team)
    )
    alter_table(:teams) { add_column :retired_at, DateTime, size: 6, null: true }
    alter_table(:queues) do
      add_column :kinds, String, text: true, null: true
      add_column :order, String, size: 10, null: false, default: "due"
      add_column :retired_at, DateTime, size: 6, null: true
    end
    alter_table(:people) { add_column :week, String, text: true, null: true }
  end

  down do
    alter_table(:people) { drop_column :week }
    alter_table(:queues) do
      drop_column :retired_at
      drop_column :order
      drop_column :kinds
    end
    alter_table(:teams) { drop_column :retired_at }
    drop_table(:memberships)
  end
end
