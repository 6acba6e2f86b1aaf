# frozen_string_literal: true

# Who works here, and what records can hold.
Sequel.migration do
  change do
    create_table(:teams) do
      String :key, size: 64, primary_key: true
      String :name, size: 120, null: false
    end

    create_table(:queues) do
      String :key, size: 64, primary_key: true
      String :name, size: 120, null: false
      foreign_key :team, :teams, type: "varchar(64)", null: false
    end

    create_table(:people) do
      String :key, size: 64, primary_key: true
      String :name, size: 120, null: false
      String :email, size: 190, null: false, unique: true
      String :role, size: 20, null: false
      foreign_key :team, :teams, type: "varchar(64)", null: true
      TrueClass :active, null: false, default: true
    end

    create_table(:absences) do
      primary_key :id
      foreign_key :person, :people, type: "varchar(64)", null: false, on_delete: :cascade
      Date :from_on, null: false
      Date :to_on, null: false
    end

    create_table(:settings) do
      String :name, size: 64, primary_key: true
      String :value, text: true, null: false
    end

    create_table(:kinds) do
      String :key, size: 80, primary_key: true
      String :label, size: 60, null: false
      String :plural, size: 60, null: false
      String :stage_label, size: 30, null: false
      String :stages, text: true, null: false
      Integer :position, null: false
    end

    create_table(:fields) do
      foreign_key :kind, :kinds, type: "varchar(80)", null: false, on_delete: :cascade
      String :key, size: 64, null: false
      String :label, size: 80, null: false
      String :type, size: 20, null: false
      String :unit, size: 10, null: true
      String :links_to, size: 80, null: true
      String :choices, text: true, null: false
      Integer :position, null: false
      primary_key [:kind, :key]
    end
  end
end
