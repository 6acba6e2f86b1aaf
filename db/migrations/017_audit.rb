# frozen_string_literal: true

# Who changed what in the set-up, people, access and rules, and who signed in or failed to. Rows are only ever added:
# the database itself refuses to change or delete one.
Sequel.migration do
  up do
    create_table(:audit) do
      primary_key :id, type: :Bignum
      DateTime :at, null: false, size: 6
      String :who, size: 64, null: true
      String :what, size: 20, null: false
      String :about, size: 160, null: true
      String :words, size: 500, null: false
      String :changes, text: true, null: false
      String :address, size: 60, null: true
      index [:what, :id], name: :audit_of_kind
      index [:who, :id], name: :audit_of_person
      index [:at, :id], name: :audit_by_day
    end
    %w[UPDATE DELETE].each do |step|
      run <<~SQL
        CREATE TRIGGER audit_no_#{step.downcase} BEFORE #{step} ON audit FOR EACH ROW
        SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'The audit is only ever added to.'
      SQL
    end
  end

  down { drop_table(:audit) }
end
