# frozen_string_literal: true

# What use and attack have shown to be missing.
Sequel.migration do
  up do
    # The one row that every new epoch writes first, so that epochs are numbered in the order of their commits.
    create_table(:book_turn) do
      Integer :id, null: false, primary_key: true
      column :turn, :bigint, null: false, default: 0
    end
    from(:book_turn).insert(id: 1, turn: 0)

    # How often something happened within a while, in a fixed number of slots.
    create_table(:counts) do
      Integer :slot, null: false, primary_key: true
      Integer :amount, null: false
      DateTime :ends_at, null: false, size: 6
    end

    # Failed tries to sign in, by e-mail and address, in a fixed number of slots.
    create_table(:failed_sign_ins) do
      Integer :slot, null: false, primary_key: true
      Integer :failures, null: false
      DateTime :last_at, null: false, size: 6
      DateTime :until_at, null: true, size: 6
    end
    drop_table(:account_lockouts)
    drop_table(:account_login_failures)

    # What a notice is about, where Yenvo asks whether somebody has been told already.
    alter_table(:notices) do
      add_column :what, String, size: 20, null: true
      add_index %i[person what at], name: :notices_told_already
    end

    # The set-up as it was from each epoch on that changed it.
    create_table(:setups) do
      column :epoch, :bigint, null: false, primary_key: true
      column :body, :mediumtext, null: false
    end

    # Whether a task's reminder was told. Those whose moment is past by now are not told any more.
    alter_table(:tasks) do
      add_column :reminded, TrueClass, null: false, default: false
      add_index %i[reminded open remind_at], name: :tasks_to_remind_of
    end
    from(:tasks).where { remind_at <= Sequel::CURRENT_TIMESTAMP }.update(reminded: true)

    # A cluster wants a primary key on every table.
    alter_table(:past_links) { add_primary_key :id, type: :Bignum }
    run "ALTER TABLE schema_info ADD PRIMARY KEY (version)"

    # The trail of runs that failed or were taken back, newest first.
    alter_table(:runs) do
      add_index %i[state id], name: :runs_of_state
      add_index %i[at rule_id state], name: :runs_for_figures
    end

    # Programs send messages to a list by a door of their own, with a secret of which the digest is kept.
    alter_table(:kinds) { add_column :program_door, String, size: 64, null: true }

    # What was taken away, with what hung on it, until it is brought back or forgotten.
    create_table(:trash) do
      column :record_id, :bigint, null: false, primary_key: true
      String :kind, size: 80, null: false
      String :title, size: 500, null: false
      String :owner, size: 64, null: true
      column :image, :mediumtext, null: false
      column :hanging, :mediumtext, null: false
      String :by, size: 64, null: true
      DateTime :at, null: false, size: 6
      index [:at], name: :trash_by_age
    end

    # A field that was taken away keeps its key, so that no other takes it over with its values; it can be brought back.
    alter_table(:fields) { add_column :removed_at, DateTime, size: 6, null: true }

    # Whoever has left has a closed account (3), which signs nobody in.
    from(:accounts).where(person: from(:people).where(active: false).select(:key)).update(status_id: 3)
    from(:account_active_session_keys).where(account_id: from(:accounts).where(status_id: 3).select(:id)).delete
  end

  down do
    from(:fields).exclude(removed_at: nil).delete
    alter_table(:fields) { drop_column :removed_at }
    alter_table(:kinds) { drop_column :program_door }
    alter_table(:runs) do
      drop_index %i[at rule_id state], name: :runs_for_figures
      drop_index %i[state id], name: :runs_of_state
    end
    run "ALTER TABLE schema_info DROP PRIMARY KEY"
    alter_table(:past_links) { drop_column :id }
    drop_table(:trash)
    alter_table(:tasks) do
      drop_index %i[reminded open remind_at], name: :tasks_to_remind_of
      drop_column :reminded
    end
    drop_table(:setups)
    alter_table(:notices) do
      drop_index %i[person what at], name: :notices_told_already
      drop_column :what
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
    drop_table(:failed_sign_ins)
    drop_table(:counts)
    drop_table(:book_turn)
  end
end
