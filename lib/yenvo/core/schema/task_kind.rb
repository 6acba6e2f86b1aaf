# frozen_string_literal: true

module Yenvo
  module Core
    class Schema
      # The task, described like a kind of record, so that conditions and counts can be asked of it.
      module TaskKind
        STATES = {
          "open" => "Open", "started" => "Started", "waiting" => "Waiting", "done" => "Done", "dropped" => "Dropped"
        }.freeze

        module_function

        # @param schema [Schema]
        # @return [Kind]
        def build(schema)
          states = STATES.map { |key, label| Choice.new(key:, label:) }
          Kind.new(
            key: "task", label: "Task", plural: "Tasks", stage_label: "State", stages: states, fields: [],
            built_in: [
              *written.first(1), Field.of("stage", "State", "choice", choices: states, built_in: true),
              Field.of("open", "Open", "yes_no", built_in: true), Field.of("late", "Late", "yes_no", built_in: true),
              *written.drop(1), Field.of("assignee", "Assignee", "person", built_in: true),
              Field.of("queue", "Queue", "choice", choices: schema.queues.to_a, built_in: true),
              Field.of("team", "Team", "choice", choices: schema.teams.to_a, built_in: true),
              Field.of("late_from", "Late from", "datetime", built_in: true),
              Field.of("answer", "Answer", "text", built_in: true),
              Field.of("note", "Note", "long_text", built_in: true),
              Field.of("done_by", "Done by", "person", built_in: true),
              Field.of("part", "Part of another", "yes_no", built_in: true),
              Field.of("made", "Made", "datetime", built_in: true),
              Field.of("done", "Done", "datetime", built_in: true),
              Field.of("took", "Took", "number", unit: "min", built_in: true)
            ]
          )
        end

        # @return [Array<Field>] what conditions see of what a task says
        def written
          TaskField.all.select(&:seen).map do |field|
            choices = field.choices.map { |key| [key, key.tr("_", " ").capitalize] }
            Field.of(field.key, field.seen_as || field.label, field.seen, choices:, built_in: true)
          end
        end
      end
    end
  end
end
