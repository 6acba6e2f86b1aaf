# frozen_string_literal: true

require "json"
require "securerandom"

# Forms for visitors, each a thing of its own; a list that was open to visitors gets one that asks what it asked.
Sequel.migration do
  up do
    create_table(:forms) do
      String :key, size: 80, primary_key: true
      String :name, size: 120, null: false
      # Of the records that it makes.
      String :kind, size: 64, null: false
      # The published version; 0 before the first.
      Integer :number, null: false, default: 0
      # Under which visitors find it; it tells nothing.
      String :address, size: 40, null: false, unique: true
      column :draft, :mediumtext, null: false
      String :written_by, size: 64, null: true
      DateTime :written_at, null: false, size: 6
      DateTime :closed_at, null: true, size: 6
      DateTime :retired_at, null: true, size: 6
    end
    create_table(:form_versions) do
      String :key, size: 80, null: false
      Integer :number, null: false
      column :body, :mediumtext, null: false
      String :by, size: 64, null: true
      DateTime :at, null: false, size: 6
      primary_key %i[key number]
    end
    # What visitors sent, each once, by which version, and what became of it.
    create_table(:form_sends) do
      primary_key :id, type: :bigint
      String :form, size: 80, null: false
      Integer :number, null: false
      String :once, size: 64, null: false
      TrueClass :consent, null: false, default: false
      column :record_id, :bigint, null: true
      column :contact_id, :bigint, null: true
      DateTime :at, null: false, size: 6
      index %i[form once], name: :form_sends_once, unique: true
      index [:record_id], name: :form_sends_of_record
      index [:contact_id], name: :form_sends_of_contact
      index [:at], name: :form_sends_by_day
    end
    # What transactions do one after the other that look for something and make it where it is not there.
    create_table(:held_names) do
      String :name, size: 80, primary_key: true
      DateTime :at, null: false, size: 6
      index [:at], name: :held_names_by_day
    end
    now = Time.now.utc
    from(:kinds).where(open_door: true, removed_at: nil).order(:position).each do |kind|
      fields = from(:fields).where(kind: kind[:key], formula: nil, removed_at: nil).exclude(type: %w[person link])
      asks = fields.order(:position).map do |field|
        {"ask" => field[:key], "label" => field[:label], "help" => field[:help], "required" => field[:required] == true}
      end
      body = JSON.generate(
        "kind" => kind[:key], "heading" => kind[:plural], "fixed" => {}, "origins" => [],
        "items" => [{"ask" => "title", "label" => "What it is about", "required" => true}, *asks]
      )
      key = kind[:key].delete_prefix("entry/")[0, 80]
      address = SecureRandom.alphanumeric(22)
      from(:forms).insert(
        key:, name: kind[:plural], kind: kind[:key], number: 1, address:, draft: body, written_at: now
      )
      from(:form_versions).insert(key:, number: 1, body:, at: now)
    end
    alter_table(:kinds) { drop_column :open_door }
  end

  down do
    alter_table(:kinds) { add_column :open_door, TrueClass, null: false, default: false }
    from(:kinds).where(key: from(:forms).where(retired_at: nil, closed_at: nil).select(:kind)).update(open_door: true)
    drop_table(:held_names, :form_sends, :form_versions, :forms)
  end
end
