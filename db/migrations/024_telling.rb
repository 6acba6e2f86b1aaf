# frozen_string_literal: true

require "json"

# How people are told: in the bell, by mail at once, in a daily mail, or not at all; and when the daily mail is due.
Sequel.migration do
  up do
    alter_table(:people) do
      add_column :told, String, text: true, null: true
      add_column :daily_due_at, DateTime, null: true, size: 6
      add_column :daily_since, DateTime, null: true, size: 6
      add_index [:daily_due_at], name: :people_by_daily_mail
    end
    from(:people).exclude(untold: nil).select_map(%i[key untold]).each do |key, untold|
      from(:people).where(key:).update(told: JSON.generate(JSON.parse(untold).to_h { |kind| [kind, "none"] }))
    end
    alter_table(:people) { drop_column :untold }
    alter_table(:notices) do
      # Until its mail is written.
      add_column :by_mail, TrueClass, null: true
      add_index [:by_mail, :id], name: :notices_by_mail
      add_index [:at], name: :notices_by_age
    end
  end

  down do
    alter_table(:notices) do
      drop_index [:at], name: :notices_by_age
      drop_index %i[by_mail id], name: :notices_by_mail
      drop_column :by_mail
    end
    alter_table(:people) { add_column :untold, String, text: true, null: true }
    from(:people).exclude(told: nil).select_map(%i[key told]).each do |key, told|
      none = JSON.parse(told).select { |_, way| way == "none" }.keys
      from(:people).where(key:).update(untold: none.empty? ? nil : JSON.generate(none))
    end
    alter_table(:people) do
      drop_index [:daily_due_at], name: :people_by_daily_mail
      %i[daily_since daily_due_at told].each { |name| drop_column name }
    end
  end
end
