# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # An open task about the record is not done when its due moment passes. It fires once for each due date.
      class TaskLate < TaskTrigger
        def self.short = "late task"
        def self.words = "has a task that gets late"
        def self.task_words = "gets late"

        def what = "task_late"
        def sentence = "#{one} gets late"

        def imagine_task(task) =
          task["open"] ? super&.then { |detail| detail.merge("task" => task.merge("late" => true)) } : nil
      end
    end
  end
end
