# frozen_string_literal: true

module Yenvo
  module Store
    # One timer to work out: its rule, record (see Lane for a task about none) and task (0 for none). at: the moment of
    # looking; since: when its time begins to count anew, or nil.
    TimerPlace = Core::Value.define(:rule, :record, :task, :at, since: nil)
  end
end
