# frozen_string_literal: true

module Yenvo
  module Core
    # What a rule watches. One class per file; all of them by their name in rule files.
    module Triggers
      # @return [Registry] a class by name
      def self.all
        @all ||=
          Registry.new(
            "trigger",
            {
              "record_made" => RecordMade, "record_changed" => RecordChanged, "stage_entered" => StageEntered,
              "stage_left" => StageLeft, "linked" => Linked, "put_on_list" => PutOnList,
              "interaction_logged" => InteractionLogged, "code" => Code, "form_sent" => FormSent,
              "message_in" => MessageIn, "mail_in" => MailIn, "by_hand" => ByHand, "merged" => Merged,
              "task_made" => TaskMade, "task_changed" => TaskChanged,
              "task_done" => TaskDone, "task_dropped" => TaskDropped, "task_late" => TaskLate,
              "date_timer" => DateTimer, "quiet_timer" => QuietTimer, "schedule" => Schedule
            }
          )
      end

      # @return [Array<String>] those that a rule about tasks can have
      def self.of_tasks = all.names.select { |name| all[name].of_tasks? }

      # @param plain [Hash] a trigger as in a rule file: "when" and settings, or "any" with several of them
      # @param path [Array] where it stands in the rule
      # @return [Trigger, nil] nil when problems were found
      def self.bind(plain, kind, schema, path: ["trigger"], problems: [])
        return AnyOf.bind(plain, kind, schema, problems:) if plain["any"]

        type = all.fetch(plain["when"])
        found = []
        if kind.task? && !type.of_tasks?
          found << Problem.at([nil, "when"], "must be one of #{of_tasks.join(", ")} for a rule about tasks")
        end
        missing = type.needs.select { |name| Array(plain[name]).empty? }
        missing.each { |name| found << Problem.at([nil, name], "must name at least one") }
        bound = type.bind(plain.except("when"), kind, schema, problems: found) if found.empty?
        found.each { |problem| problems << problem.with(path: [*path, *problem.path.drop(1)]) }
        bound
      end
    end
  end
end
