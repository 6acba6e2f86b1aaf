# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Changes the open tasks on the record, a linked one or one just made, that meet a condition: their priority or
      # due date, who does them, or their state. Which these are is looked up when the run is written.
      class ChangeTasks < Action
        STATES = {"started" => "is started", "done" => "is finished", "dropped" => "is dropped"}.freeze
        def self.takes =
          {
            "of" => :target, "only" => :text, "which" => :group, "priority" => :text, "due" => :date,
            "assign" => :assign, "fallback" => :assign, "state" => :text, "note" => :template
          }

        def self.words = "Change open tasks"

        def plan(facts, now:, rule_name:)
          task = settings["only"] && facts.event.detail["task"]&.[]("id")
          record = @target.find(facts)
          return nothing(@target.missing) unless record || task

          pick = @chooser&.choose(facts, today: today(now), whose: whose(facts))
          due = @due&.work_out(facts, now:)
          notes = if @due
            ["due #{due ? @due.phrase : "stays: #{@due.missing}"}"]
          else
            []
          end
          that = " that meet the condition" if @which.items.any?
          [
            effect(
              Effects::ChangeTasks, "#{noun}#{@target.words(facts)}#{that}: #{words(pick, due).join(", ")}", record:,
              which: @which, task:, priority: settings["priority"], assignee: pick&.person, queue: pick&.queue, due:,
              state: settings["state"], note: @note && fill(@note, facts, now, rule_name), notes:, reason: pick&.reason
            )
          ]
        end

        def shown = "#{noun}: #{words(nil, nil).join(", ")}"

        private

        def noun = settings["only"] ? "This task" : "Open tasks"

        def words(pick, due)
          [
            settings["priority"] && "#{settings["priority"]} priority",
            settings["due"] && "due #{due ? Show.date(due.on) : @due.phrase}",
            settings["assign"] && "to #{pick ? pick.name(@schema) : "another"}", settings["state"]
          ].compact
        end

        def prepare
          target
          @which = group(settings["which"] || Group.always, @schema.tasks, "which")
          check_which
          check_choices
          @due = settings["due"] && date(settings["due"], "due")
          @chooser = settings["assign"] && chooser(people_only: false)
          @note = settings["note"] && template("note")
        end

        # The record of such a test is the task; there is nothing before it and nothing linked.
        def check_which
          @which.each_leaf do |leaf|
            unless leaf.reference.stored? && leaf.operator.side == :after
              wrong("which", "must ask about the task as it is; #{leaf.label} #{leaf.phrase} does not")
            end
          end
        end

        def check_choices
          check_one_of(Schema::TaskField::PRIORITIES, settings["priority"], "priority")
          unless [nil, "this"].include?(settings["only"])
            wrong("only", "must be this, for the task of the event, or left out")
          end
          check_one_of(STATES.keys, settings["state"], "state")
          if settings.slice("priority", "due", "assign", "state").compact.empty?
            wrong([], "must change something: priority, due, assign or state")
          end
        end
      end
    end
  end
end
