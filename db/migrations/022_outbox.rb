# frozen_string_literal: true

# What leaves the house: each message as it will go, with its tries; and the destinations that rest.
Sequel.migration do
  up do
    create_table(:deliveries) do
      primary_key :id, type: :bigint
      # The same at every try, so that whoever gets it twice can tell.
      String :message_id, size: 120, null: false, unique: true
      String :way, size: 20, null: false
      String :destination, size: 200, null: false
      String :to, size: 1000, null: false
      String :subject, size: 300, null: false
      column :content, :mediumtext, null: false
      # What it says is nobody's to read once it has gone, such as a link that lets somebody in.
      TrueClass :secret, null: false, default: false
      String :state, size: 20, null: false, default: "waiting"
      String :by, size: 64, null: true
      DateTime :made_at, null: false, size: 6
      DateTime :due_at, null: false, size: 6
      DateTime :settled_at, null: true, size: 6
      Integer :tries, null: false, default: 0
      String :answer, size: 500, null: true
      index [:state, :due_at, :id], name: :deliveries_due
      index [:destination, :state, :due_at], name: :deliveries_of_destination
    end
    create_table(:delivery_tries) do
      primary_key :id, type: :bigint
      foreign_key :delivery_id, :deliveries, type: :bigint, null: false, on_delete: :cascade
      DateTime :at, null: false, size: 6
      TrueClass :sent, null: false
      String :answer, size: 500, null: false
    end
    create_table(:rests) do
      String :destination, size: 200, primary_key: true
      Integer :failures, null: false, default: 0
      DateTime :probe_at, null: true, size: 6
    end
  end

  down { drop_table(:rests, :delivery_tries, :deliveries) }
end
