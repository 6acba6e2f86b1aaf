# frozen_string_literal: true

# Views of lists, by name: how a list is narrowed, sorted and which columns it shows; for whoever made it, a team, or
# everybody. And notes and calls that were on another day than they were written down.
Sequel.migration do
  change do
    create_table(:views) do
      primary_key :id, type: :bigint
      String :kind, size: 80, null: false
      String :name, size: 60, null: false
      # As the address of the list says it, as JSON.
      column :query, :text, null: false
      String :person, size: 64, null: false
      # mine, team or everybody
      String :whose, size: 12, null: false, default: "mine"
      String :team, size: 64, null: true
      DateTime :at, null: false, size: 6
      index %i[kind id], name: :views_of_kind
    end
    alter_table(:interactions) { add_column :written_at, DateTime, null: true, size: 6 }
  end
end
