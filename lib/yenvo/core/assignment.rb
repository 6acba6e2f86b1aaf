# frozen_string_literal: true

module Yenvo
  module Core
    # Ways to say who gets a task. One class per file; all of them by their name in rule files.
    module Assignment
      # @return [Registry] a class by name
      def self.all
        @all ||=
          Registry.new(
            "way to assign",
            {
              "person" => NamedPerson, "owner" => Owner, "creator" => Creator, "field" => PersonField,
              "who_did_it" => WhoDidIt, "task_assignee" => TaskAssignee, "turns" => ByTurns, "load" => LightestLoad,
              "several" => Several, "rule_owner" => RuleOwner, "queue" => Queue
            }
          )
      end
    end
  end
end
