# frozen_string_literal: true

# What was handed over when somebody left, thing by thing, so that it can be taken back.
Sequel.migration do
  change do
    create_table(:handed_over) do
      primary_key :id, type: :Bignum
      foreign_key :job_id, :jobs, type: :Bignum, null: false, on_delete: :cascade
      String :what, size: 20, null: false
      column :ref, :bigint, null: false
      String :field, size: 64, null: true
      String :person, size: 64, null: true
      String :queue, size: 64, null: true
      index [:job_id, :id], name: :handed_over_by_job
    end
  end
end
