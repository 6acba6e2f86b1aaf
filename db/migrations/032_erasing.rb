# frozen_string_literal: true

# When what lies in the trash is erased for good, and by whom; and a way for that, and nothing else, through the lock
# of the audit: what it says of a record that is erased is taken out of it.
Sequel.migration do
  up do
    alter_table(:trash) do
      add_column :erase_at, DateTime, null: true, size: 6
      add_column :erased_by, String, size: 64, null: true
      add_index [:erase_at], name: :trash_to_erase
    end
    from(:trash).update(erase_at: Sequel.lit("`at` + INTERVAL 30 DAY"))
    alter_table(:trash) { set_column_not_null :erase_at }
    run "DROP TRIGGER audit_no_update"
    run <<~SQL
      CREATE TRIGGER audit_no_update BEFORE UPDATE ON audit FOR EACH ROW
      IF @yenvo_erasing IS NULL OR NOT (OLD.id <=> NEW.id AND OLD.at <=> NEW.at AND OLD.who <=> NEW.who
        AND OLD.what <=> NEW.what AND OLD.about <=> NEW.about AND OLD.address <=> NEW.address
        AND OLD.changes <=> NEW.changes) THEN
        SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'The audit is only ever added to.';
      END IF
    SQL
    alter_table(:audit) { add_index [:about], name: :audit_about }
    alter_table(:notices) { add_index [:words_of], name: :notices_words_of }
    alter_table(:proposals) { add_index [:record_id], name: :proposals_of_record }
  end

  down do
    alter_table(:proposals) { drop_index [:record_id], name: :proposals_of_record }
    alter_table(:notices) { drop_index [:words_of], name: :notices_words_of }
    alter_table(:audit) { drop_index [:about], name: :audit_about }
    run "DROP TRIGGER audit_no_update"
    run <<~SQL
      CREATE TRIGGER audit_no_update BEFORE UPDATE ON audit FOR EACH ROW
      SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'The audit is only ever added to.'
    SQL
    alter_table(:trash) do
      drop_index [:erase_at], name: :trash_to_erase
      drop_column :erase_at
      drop_column :erased_by
    end
  end
end
