# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Changes the open tasks on a record that meet a condition. which: BoundGroup; task: id of the only one, or nil;
      # the rest is what they become, nil for what stays: priority, due (Due), assignee or queue, state, and the note on
      # it.
      ChangeTasks =
        Effects.define(
          :change_tasks, :record, :which, task: nil, priority: nil, due: nil, assignee: nil, queue: nil, state: nil,
          note: nil
        )
    end
  end
end
