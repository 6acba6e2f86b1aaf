# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # Whoever had the task that the event is about.
      class TaskAssignee < Way
        def self.words = "whoever had the task"
        def pick(facts) = facts.event.detail["task"]&.[]("assignee")
        def described = "who had the task"
        def nobody = "nobody had the task"
      end
    end
  end
end
