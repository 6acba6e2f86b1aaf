# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # Somebody or something changes an open task: who does it, its due date, priority or state.
      class TaskChanged < TaskTrigger
        def self.takes = super.merge("what" => :values)
        def self.short = "changed task"
        def self.words = "has a task changed"
        def self.task_words = "is changed"

        def what = "task_changed"

        def sentence = "#{one} changes#{either("what", ": ")}"

        WHAT = %w[assignee due priority state].freeze

        def check(problems) =
          check_known("what", WHAT.to_h { |name| [name, name] }, "what of a task can change", problems)

        def fits?(detail) = (wanted = some("what")).nil? || (Array(detail["changed"]) & wanted).any?

        def imagine_task(task) =
          task["open"] ? super&.then { |detail| detail.merge("changed" => some("what") || WHAT) } : nil

        private

        def miss_task(detail) = "Of the task #{Array(detail["changed"]).join(", ")} changed"
      end
    end
  end
end
