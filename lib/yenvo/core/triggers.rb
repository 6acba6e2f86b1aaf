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
              "message_in" => MessageIn, "by_hand" => ByHand, "task_made" => TaskMade, "task_changed" => TaskChanged,
              "task_done" => TaskDone, "task_dropped" => TaskDropped, "task_late" => TaskLate,
              "date_timer" => DateTimer, "quiet_timer" => QuietTimer, "schedule" => Schedule
            }
          )
      end
    end
  end
end
