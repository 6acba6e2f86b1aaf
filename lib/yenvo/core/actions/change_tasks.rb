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
          only = settings["only"] && facts.event.detail["task"]&.[]("id")
          id = @target.find(facts)
          return nothing(@target.missing) unless id || only

          today = @schema.calendar.zone.date_of(now)
          pick = @chooser&.choose(facts, today:)
          due = @due&.work_out(facts, now:)
          become = {
            priority: settings["priority"], assignee: pick&.person, queue: pick&.queue, due:,
            state: settings["state"], note: @note && fill(@note, facts, now, rule_name)
          }
          notes = [*(@due && ["due #{due ? @due.phrase : "stays: #{@due.missing}"}"])]
          which = settings["only"] ? "This task" : "Open tasks"
          that = " that meet the condition" if @which.items.any?
          said = "#{which}#{@target.words(facts)}#{that}: #{words(pick, due).join(", ")}"
          [
            effect(
              Effects::ChangeTasks, said, record: id, which: @which, task: only, **become, notes:,
              reason: pick&.reason
            )
          ]
        end

        def shown = "#{settings["only"] ? "This task" : "Open tasks"}: #{words(nil, nil).join(", ")}"

        private

        def words(pick, due)
          [
            settings["priority"] && "#{settings["priority"]} priority",
            settings["due"] && "due #{due ? Show.date(due.on) : @due.phrase}", settings["assign"] &&
              "to #{
                if pick
                  pick.person ? @schema.name_of(pick.person) : @schema.queues[pick.queue]
                else
                  "another"
                end
              }",
            settings["state"]
          ].compact
        end

        def prepare
          target
          @which =
            BoundGroup.bind(
              settings["which"] || Group.always, @schema.tasks, @schema, path: path("which"), problems: @problems
            )
          check_which
          check_choices
          @due =
            settings["due"] &&
            BoundDate.bind(settings["due"], @kind, @schema, @schema.calendar, path: path("due"), problems: @problems)
          @needs += @due.needs if @due
          @chooser = settings["assign"] && chooser("assign", "fallback", people_only: false)
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
          unless settings["priority"].nil? || Schema::TaskField::PRIORITIES.include?(settings["priority"])
            wrong("priority", "must be one of #{Schema::TaskField::PRIORITIES.join(", ")}")
          end
          unless [nil, "this"].include?(settings["only"])
            wrong("only", "must be this, for the task of the event, or left out")
          end
          unless settings["state"].nil? || STATES.key?(settings["state"])
            wrong("state", "must be one of #{STATES.keys.join(", ")}")
          end
          if settings.slice("priority", "due", "assign", "state").compact.empty?
            wrong([], "must change something: priority, due, assign or state")
          end
        end
      end
    end
  end
end
