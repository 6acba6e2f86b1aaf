# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # A task about the record is dropped.
      class TaskDropped < TaskTrigger
        def self.short = "dropped task"
        def self.words = "has a task dropped"

        def what = "task_dropped"
        def sentence = "#{task_words} about the #{kind.noun} is dropped"

        def imagine_task(task) =
          super&.then { |detail| detail.merge("task" => task.merge("stage" => "dropped", "open" => false)) }
      end
    end
  end
end
