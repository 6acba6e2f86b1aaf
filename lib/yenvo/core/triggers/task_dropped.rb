# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # A task about the record is dropped.
      class TaskDropped < TaskTrigger
        def self.short = "dropped task"
        def self.words = "has a task dropped"
        def self.task_words = "is dropped"

        def what = "task_dropped"
        def sentence = "#{one} is dropped"

        def imagine_task(task) =
          super&.then { |detail| detail.merge("task" => task.merge("stage" => "dropped", "open" => false)) }
      end
    end
  end
end
