# frozen_string_literal: true

# The records, and the append-only journal of all that happened to them.
Sequel.migration do
  change do
    create_table(:records) do
      primary_key :id, type: :Bignum
      foreign_key :kind, :kinds, type: "varchar(80)", null: false
      String :title, size: 500, null: false
      String :stage, size: 64, null: true
      String :owner, size: 64, null: true
      String :creator, size: 64, null: true
      DateTime :made_at, null: false, size: 6
      DateTime :changed_at, null: false, size: 6
      DateTime :last_contact_at, null: true, size: 6
      DateTime :stage_since, null: false, size: 6
      Integer :visit, null: false, default: 1
      Integer :version, null: false, default: 1
      column :entry_id, :bigint, null: false, default: 0
      column :fields, :mediumtext, null: false
      index [:kind, :changed_at, :id], name: :records_newest_first
      index [:kind, :stage, :changed_at, :id], name: :records_by_stage
      index [:kind, :owner, :changed_at, :id], name: :records_by_owner
    end

    # What lists are sorted, filtered and searched by: one row a value. A number stands in num with an empty word, all
    # else in word with num 0; field "~" holds the words of the title.
    create_table(:record_index) do
      String :kind, size: 80, null: false
      String :field, size: 64, null: false
      TrueClass :empty, null: false, default: false
      column :num, :double, null: false, default: 0
      String :word, size: 64, null: false, default: ""
      column :record_id, :bigint, null: false
      primary_key [:kind, :field, :empty, :num, :word, :record_id]
      index [:record_id, :field], name: :record_index_of_record
      foreign_key [:record_id], :records, on_delete: :cascade
    end

    create_table(:links) do
      column :record_id, :bigint, null: false
      String :field, size: 64, null: false, default: ""
      column :target_id, :bigint, null: false
      primary_key [:record_id, :field, :target_id]
      index [:target_id, :record_id], name: :links_to_target
      foreign_key [:record_id], :records, on_delete: :cascade
      foreign_key [:target_id], :records, on_delete: :cascade
    end

    # Each change of the rules in force begins an epoch; an entry of the journal says in which it happened, so that
    # which versions it met is known for good.
    create_table(:epochs) do
      primary_key :id, type: :Bignum
      String :what, size: 40, null: false
      String :who, size: 64, null: true
      DateTime :at, null: false, size: 6
      index [:what, :id], name: :epochs_of_kind
    end

    create_table(:journal) do
      primary_key :id, type: :Bignum
      String :what, size: 40, null: false
      column :record_id, :bigint, null: true
      String :kind, size: 80, null: true
      column :task_id, :bigint, null: true
      String :who, size: 64, null: true
      column :cause_run, :bigint, null: true
      column :cause_rule, :bigint, null: true
      Integer :depth, null: false, default: 0
      column :epoch, :bigint, null: false
      Integer :record_version, null: true
      DateTime :at, null: false, size: 6
      column :before, :mediumtext, null: true
      column :after, :mediumtext, null: true
      column :detail, :mediumtext, null: true
      index [:record_id, :id], name: :journal_of_record
      index [:task_id, :id], name: :journal_of_task
      index [:kind, :id], name: :journal_of_kind
      index [:cause_run], name: :journal_of_run
    end

    # Entries that no worker has settled yet: the queue. A row goes in the transaction that settles its entry.
    create_table(:waiting) do
      column :entry_id, :bigint, null: false, primary_key: true
      column :record_id, :bigint, null: false
      Integer :tries, null: false, default: 0
      DateTime :not_before, null: true, size: 6
      String :last_error, size: 500, null: true
      index [:record_id, :entry_id], name: :waiting_of_record
    end

    create_table(:interactions) do
      primary_key :id, type: :Bignum
      column :record_id, :bigint, null: false
      String :way, size: 20, null: false
      column :text, :mediumtext, null: false
      String :who, size: 64, null: true
      DateTime :at, null: false, size: 6
      index [:record_id, :id], name: :interactions_of_record
      foreign_key [:record_id], :records, on_delete: :cascade
    end
  end
end
