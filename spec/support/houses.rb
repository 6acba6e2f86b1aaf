# frozen_string_literal: true

# Houses that nobody has opened yet, and what the page that opens one sends.
module Houses
  # The audit lets nobody take rows away.
  KEPT = %i[schema_info book_turn audit].freeze

  module_function

  # What somebody writes who opens a house for a piano workshop in Riga.
  def opening =
    {
      "name" => "Ozola pianos", "zone" => "Europe/Riga", "holidays" => "lv", "currency" => "EUR",
      "hours" => [
        *(1..4).map { |day| {"day" => day, "from" => "09:00", "to" => "17:30"} },
        {"day" => 5, "from" => "08:00", "to" => "14:00"}
      ],
      "person" => {"name" => "Līga Ozola", "email" => "liga@pianos.example", "password" => "felt hammer oak"}
    }

  # Takes everything away, in the transaction of the example.
  # @param root [Yenvo::Store::Root]
  def empty(root)
    db = root.db
    db.run "SET FOREIGN_KEY_CHECKS=0"
    (db.tables - KEPT).each { |table| db[table].delete }
    db.run "SET FOREIGN_KEY_CHECKS=1"
    root.forget
  end
end
