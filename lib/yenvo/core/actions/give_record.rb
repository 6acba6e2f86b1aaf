# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Gives the record, or a linked one, to somebody together with the open tasks on it: who owns it now works it.
      # Tasks that wait in a queue go to them too.
      class GiveRecord < Action
        def self.takes = {"of" => :target, "assign" => :assign, "fallback" => :assign}
        def self.required = %w[assign]
        def self.words = "Give the record with its open tasks"

        def plan(facts, now:, rule_name:)
          id = @target.find(facts) or return nothing(@target.missing)
          pick = @chooser.choose(facts, today: today(now))
          name = pick.name(@schema)
          owner = "Owner#{@target.words(facts)} becomes #{name}"
          tasks = "Open tasks#{@target.words(facts)} go to #{name}"
          [
            effect(Effects::ChangeRecord, owner, record: id, values: {"owner" => pick.person}, reason: pick.reason),
            effect(Effects::ChangeTasks, tasks, record: id, which: ALL, assignee: pick.person)
          ]
        end

        def shown = "Give with open tasks"

        private

        ALL = BoundGroup.new("all", [])
        private_constant :ALL

        def prepare
          target
          @chooser = chooser
        end
      end
    end
  end
end
