# frozen_string_literal: true

# One-time links with which somebody chooses a password, as Rodauth keeps them; until then there is none.
Sequel.migration do
  up do
    create_table(:account_password_reset_keys) do
      foreign_key :id, :accounts, type: :Bignum, primary_key: true, on_delete: :cascade
      String :key, size: 64, null: false
      DateTime :deadline, null: false
      DateTime :email_last_sent, null: false, default: Sequel::CURRENT_TIMESTAMP
    end
    alter_table(:accounts) { set_column_allow_null :password_hash }
  end

  down do
    drop_table(:account_password_reset_keys)
    from(:accounts).where(password_hash: nil).update(password_hash: "none")
    alter_table(:accounts) { set_column_not_null :password_hash }
  end
end
