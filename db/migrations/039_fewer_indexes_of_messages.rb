# frozen_string_literal: true

# The index of states and due dates serves what this one served. Where it was there, a page of what was sent on some day
# was read by it, back from the newest message, instead of by the day.
Sequel.migration do
  up { alter_table(:deliveries) { drop_index %i[state id], name: :deliveries_of_state } }
  down { alter_table(:deliveries) { add_index %i[state id], name: :deliveries_of_state } }
end
