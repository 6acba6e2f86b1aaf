# frozen_string_literal: true

# Sign-in, as Rodauth wants it.
Sequel.migration do
  change do
    create_table(:accounts) do
      primary_key :id, type: :Bignum
      String :email, size: 190, null: false, unique: true
      Integer :status_id, null: false, default: 2
      String :password_hash, size: 255, null: false
      foreign_key :person, :people, type: "varchar(64)", null: false, unique: true
    end

    create_table(:account_login_failures) do
      foreign_key :id, :accounts, type: :Bignum, primary_key: true
      Integer :number, null: false, default: 1
    end

    create_table(:account_lockouts) do
      foreign_key :id, :accounts, type: :Bignum, primary_key: true
      String :key, size: 64, null: false
      DateTime :deadline, null: false
      DateTime :email_last_sent
    end

    create_table(:account_active_session_keys) do
      foreign_key :account_id, :accounts, type: :Bignum, null: false
      String :session_id, size: 64, null: false
      DateTime :created_at, null: false, default: Sequel::CURRENT_TIMESTAMP
      DateTime :last_use, null: false, default: Sequel::CURRENT_TIMESTAMP
      primary_key [:account_id, :session_id]
    end
  end
end
