# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # The base of triggers that watch the tasks about a record. The task as it was right after the event stands in the
      # detail of the event. Sub-tasks are watched only where the rule says so.
      class TaskTrigger < Trigger
        def self.takes = {"parts" => :flag}
        def self.task? = true

        def task? = true
        def watch_keys = [["task", what]]

        def to_proc
          name = what
          parts = settings["parts"] == true
          ->(facts) do
            facts.event.what == name && (parts || !facts.event.detail["task"]&.[]("part")) && fits?(facts.event.detail)
          end
        end

        # @return [Boolean] whether what happened is what the settings ask for
        def fits?(_detail) = true

        # @param task [Hash] a task as it stands now
        # @return [Hash, nil] the detail of the event that this trigger would meet about it; nil when it cannot happen
        #   to it
        def imagine_task(task) = (task["part"] && settings["parts"] != true) ? nil : {"task" => task}

        # A task of no record, where none is at hand.
        def sample_detail =
          imagine_task(
            {
              "id" => 0, "title" => "a task", "stage" => "open", "open" => true, "priority" => "normal",
              "part" => false, "answers" => some("answers") || []
            }
          ) || {}

        def imagine(image) = [image, image]

        def miss(facts)
          return "What happened is no #{self.class.short}" unless facts.event.what == what
          if facts.event.detail["task"]&.[]("part") && settings["parts"] != true
            return "It is a part of another task, and this rule leaves parts alone"
          end

          miss_task(facts.event.detail)
        end

        private

        def miss_task(_detail) = "The trigger is another: #{sentence}"
        def task_words = settings["parts"] ? "A task or part of one" : "A task"

        # @return [String] such as "A task about the deal"
        def one = kind.task? ? task_words : "#{task_words} about the #{kind.noun}"
      end
    end
  end
end
