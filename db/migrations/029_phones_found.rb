# frozen_string_literal: true

# Phones are found by their last digits: beside each stands, under "~" and its field, what digits it has, the last
# first.
Sequel.migration do
  up do
    run <<~SQL
      INSERT IGNORE INTO record_index (kind, field, empty, num, word, record_id)
        SELECT record_index.kind, CONCAT('~', record_index.field), 0, 0,
          REVERSE(REGEXP_REPLACE(record_index.word, '[^0-9]', '')), record_index.record_id
        FROM record_index JOIN fields ON fields.kind = record_index.kind AND fields.key = record_index.field
        WHERE fields.type = 'phone' AND record_index.empty = 0
    SQL
  end

  down do
    from(:record_index).where(Sequel.like(:field, "~_%")).delete
  end
end
