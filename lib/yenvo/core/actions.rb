# frozen_string_literal: true

module Yenvo
  module Core
    # What a branch does. One class per file; all of them by their name in rule files.
    module Actions
      # @return [Registry] a class by name
      def self.all
        @all ||=
          Registry.new(
            "action",
            {
              "task" => BoundMakeTask, "set" => SetFields, "assign" => AssignRecord, "give" => GiveRecord,
              "move" => MoveRecord, "list" => ChangeList, "record" => MakeRecord, "log" => LogInteraction,
              "tasks" => ChangeTasks, "comment" => Comment, "notice" => TellPerson, "mail" => SendMail,
              "board" => PostOnBoard, "paper" => MakePaper, "call" => CallOut, "kit" => UseKit, "wait" => Wait,
              "ladder" => Ladder, "refuse" => RefuseSave
            }
          )
      end

      # Ties an action, whichever it is.
      # @param made [Hash{Integer => Schema::Kind}] kinds of the records that earlier actions of the row make, by their
      #   number
      # @param path [Array] place in the rule, for problems
      # @param index [Integer] its place in the branch, from 0
      # @param tasks [Array<Integer>] numbers of earlier actions of the row that make tasks
      # @param papers [Array<Integer>] numbers of those that make papers
      # @param watches_task [Boolean] whether the trigger is about a task
      # @return [Action, nil] nil when something is wrong
      def self.bind(action, kind, schema, made: {}, tasks: [], papers: [], watches_task: false, path: [], index: 0,
        problems: [])
        before = problems.size
        bound =
          all.fetch(action.name).new(
            action, kind, schema,
            Place.new(path:, index:, made:, tasks:, papers:, watches_task:), problems
          )
        (problems.size == before) ? bound : nil
      end

      # Where an action stands: path in the rule; index in its row, from 0; made, tasks, papers and watches_task: see
      # +bind+.
      Place = Value.define(:path, :index, :made, tasks: [], papers: [], watches_task: false)
    end
  end
end
