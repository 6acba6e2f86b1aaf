# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # A task about the record is done, with one of some answers where the rule names them.
      class TaskDone < TaskTrigger
        def self.takes = super.merge("answers" => :values)
        def self.short = "finished task"
        def self.words = "has a task finished"
        def self.task_words = "is done"

        def what = "task_done"

        def sentence = "#{one} is done#{either("answers", " with the answer ")}"

        def fits?(detail) = (wanted = some("answers")).nil? || wanted.include?(detail.dig("task", "answer"))

        def imagine_task(task)
          wanted = some("answers")
          return if wanted && ((task["answers"] || []) & wanted).empty?

          super&.then do |detail|
            detail.merge(
              "task" =>
                task.merge(
                  "stage" => "done", "open" => false,
                  "answer" => wanted ? ((task["answers"] || []) & wanted).first : task["answers"]&.first
                )
            )
          end
        end

        private

        def miss_task(detail) =
          (answer = detail["task"]&.[]("answer")) ? "The answer was #{answer}" : "It was done without an answer"
      end
    end
  end
end
