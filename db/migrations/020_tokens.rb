# frozen_string_literal: true

# With tokens programs call the API, as a person or as a program, which is a person without a sign-in. Only a digest is
# kept of each.
Sequel.migration do
  change do
    alter_table(:people) { add_column :program, TrueClass, null: false, default: false }
    create_table(:tokens) do
      primary_key :id, type: :Bignum
      String :digest, size: 64, null: false, unique: true
      String :name, size: 120, null: false
      foreign_key :person, :people, type: "varchar(64)", null: false, on_delete: :cascade
      String :scopes, text: true, null: false
      Integer :per_minute, null: false
      String :made_by, size: 64, null: true
      DateTime :made_at, size: 6, null: false
      DateTime :expires_at, size: 6, null: false
      DateTime :used_at, size: 6, null: true
      DateTime :ended_at, size: 6, null: true
      index [:person, :id], name: :tokens_of_person
    end
  end
end
