# frozen_string_literal: true

# Mail that comes in: addresses of the house and what becomes of mail to each, every mail once, and the addresses from
# which mail came back.
Sequel.migration do
  up do
    create_table(:mail_doors) do
      String :key, size: 80, primary_key: true
      String :name, size: 120, null: false
      # To which people write.
      String :address, size: 190, null: false
      # Of the records that come of it.
      String :kind, size: 64, null: false
      column :plain, :mediumtext, null: false
      TrueClass :open, null: false, default: false
      String :written_by, size: 64, null: true
      DateTime :written_at, null: false, size: 6
      DateTime :retired_at, null: true, size: 6
    end
    create_table(:letters) do
      primary_key :id, type: :bigint
      # Of the message id, which no two mails share (RFC 5322, 3.6.4).
      String :digest, size: 64, null: false, unique: true
      String :sender, size: 190, null: false
      String :name, size: 120, null: true
      # The address of the house by which it came.
      String :to, size: 190, null: true
      String :subject, size: 300, null: false
      # answer, made, automatic, back, loop, unknown or waiting
      String :state, size: 20, null: false
      String :reason, size: 1_000, null: true
      column :record_id, :bigint, null: true
      column :delivery_id, :bigint, null: true
      String :door, size: 80, null: true
      DateTime :at, null: false, size: 6
      index [:record_id], name: :letters_of_record
      index [:delivery_id], name: :letters_of_delivery
      index %i[state at], name: :letters_of_state
      index [:at], name: :letters_by_day
    end
    create_table(:returned) do
      String :address, size: 190, primary_key: true
      String :words, size: 500, null: false
      column :delivery_id, :bigint, null: true
      DateTime :at, null: false, size: 6
    end
    alter_table(:deliveries) do
      # When it came back though it had been taken, and why.
      add_column :back_at, DateTime, null: true, size: 6
      add_column :back, String, size: 500, null: true
      add_index [:back_at], name: :deliveries_back
    end
    # Of a mail: who wrote it, what it quotes, which files came along.
    alter_table(:interactions) { add_column :letter, :mediumtext, null: true }
  end

  down do
    alter_table(:interactions) { drop_column :letter }
    alter_table(:deliveries) do
      drop_index [:back_at], name: :deliveries_back
      drop_column :back
      drop_column :back_at
    end
    drop_table(:returned, :letters, :mail_doors)
  end
end
