# frozen_string_literal: true

# How far the files of other records were looked through for the words of one that is being erased, and what came of it;
# JSON.
Sequel.migration do
  up { alter_table(:trash) { add_column :files, :text } }
  down { alter_table(:trash) { drop_column :files } }
end
