# frozen_string_literal: true

# Texts and papers with their versions, the letterhead, files of records, and papers that are yet to be printed.
Sequel.migration do
  up do
    %i[texts papers].each do |table|
      create_table(table) do
        String :key, size: 80, primary_key: true
        String :name, size: 120, null: false
        # Of the records it is filled in from; "record" for any.
        String :kind, size: 64, null: false
        Integer :number, null: false
        # Of a paper: markdown, docx or odt; a4, a5 or letter.
        String :form, size: 20, null: true
        String :page, size: 20, null: true
        DateTime :retired_at, null: true, size: 6
      end
    end
    create_table(:text_versions) do
      String :key, size: 80, null: false
      Integer :number, null: false
      String :subject, size: 1_000, null: false
      column :body, :mediumtext, null: false
      # What it leans on, as Core::Uses says it.
      column :uses, :mediumtext, null: false, default: "[]"
      String :by, size: 64, null: true
      DateTime :at, null: false, size: 6
      primary_key %i[key number]
    end
    create_table(:paper_versions) do
      String :key, size: 80, null: false
      Integer :number, null: false
      String :form, size: 20, null: false
      String :page, size: 20, null: false
      column :body, :mediumblob, null: false
      column :uses, :mediumtext, null: false, default: "[]"
      String :by, size: 64, null: true
      DateTime :at, null: false, size: 6
      primary_key %i[key number]
    end
    # One row.
    create_table(:letterhead) do
      Integer :id, primary_key: true
      column :lines, :text, null: false
      column :logo, :mediumblob, null: true
    end
    # A file belongs to a task or to a record; a paper has neither name on disk nor size until it is printed.
    alter_table(:attachments) do
      set_column_allow_null :task_id
      set_column_allow_null :file
      set_column_allow_null :size
      add_column :record_id, :bigint, null: true
      add_index [:record_id], name: :attachments_of_record
    end
    create_table(:fillings) do
      foreign_key :attachment_id, :attachments, type: :Bignum, primary_key: true, on_delete: :cascade
      column :body, :mediumtext, null: false
      # How often it could not be printed.
      Integer :tries, null: false, default: 0
    end
    alter_table(:tasks) { add_column :fills, String, size: 80, null: true }
  end

  down do
    alter_table(:tasks) { drop_column :fills }
    drop_table(:fillings)
    from(:attachments).where(Sequel[task_id: nil] | Sequel[file: nil]).delete
    alter_table(:attachments) do
      drop_index :record_id, name: :attachments_of_record
      drop_column :record_id
      set_column_not_null :size
      set_column_not_null :file
      set_column_not_null :task_id
    end
    drop_table(:letterhead, :paper_versions, :text_versions, :papers, :texts)
  end
end
