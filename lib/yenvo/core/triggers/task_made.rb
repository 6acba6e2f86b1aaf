# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # A task about the record is made, by a person, a rule or a kit.
      class TaskMade < TaskTrigger
        def self.short = "new task"
        def self.words = "gets a task"
        def self.task_words = "is made"

        def what = "task_made"
        def sentence = kind.task? ? "#{task_words} is made" : "#{task_words} is made about the #{kind.noun}"
      end
    end
  end
end
