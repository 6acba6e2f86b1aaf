# frozen_string_literal: true

# The second step at sign-in, as Rodauth keeps it; and what belongs to somebody's own page: the zone in which they read
# moments, and what they are not told of.
Sequel.migration do
  change do
    create_table(:account_otp_keys) do
      foreign_key :id, :accounts, type: :Bignum, primary_key: true, on_delete: :cascade
      String :key, size: 64, null: false
      Integer :num_failures, null: false, default: 0
      Time :last_use, null: false, default: Sequel::CURRENT_TIMESTAMP
    end

    create_table(:account_recovery_codes) do
      foreign_key :id, :accounts, type: :Bignum, on_delete: :cascade
      String :code, size: 64
      primary_key [:id, :code]
    end

    alter_table(:people) do
      add_column :zone, String, size: 80, null: true
      add_column :untold, String, text: true, null: true
    end
  end
end
