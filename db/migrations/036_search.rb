# frozen_string_literal: true

# By which words records and notes are found: one row for each word of each. What is there already is indexed by a
# worker.
Sequel.migration do
  up do
    create_table(:words) do
      # r: a record, n: a note
      String :sort, size: 1, fixed: true, null: false
      String :word, size: 32, null: false
      column :ref, :bigint, null: false
      primary_key %i[sort word ref]
    end
    if from(:records).any?
      now = Sequel.lit("UTC_TIMESTAMP(6)")
      from(:jobs).insert(what: "index_words", state: "waiting", total: from(:records).count + from(:interactions).count,
        filter: "{}", note: "Words by which records and notes are found", at: now)
    end
  end

  down { drop_table(:words) }
end
