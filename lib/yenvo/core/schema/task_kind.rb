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
          choices = {"stage" => states, "queue" => schema.queues.to_a, "team" => schema.teams.to_a}
          kept =
            KEPT.map do |key, label, type, unit|
              Field.of(key, label, type, choices: choices.fetch(key, []), unit:, built_in: true)
            end
          title, *more = written
          Kind.new(
            key: "task", label: "Task", plural: "Tasks", stage_label: "State", stages: states, fields: [],
            built_in: [title, *kept.first(3), *more, *kept.drop(3)]
          )
        end

        # What Yenvo keeps of a task beside what it says.
        KEPT = [
          %w[stage State choice], %w[open Open yes_no], %w[late Late yes_no], %w[assignee Assignee person],
          %w[queue Queue choice], %w[team Team choice], ["late_from", "Late from", "datetime"], %w[answer Answer text],
          %w[note Note long_text], ["done_by", "Done by", "person"], ["part", "Part of another", "yes_no"],
          %w[made Made datetime], %w[done Done datetime], %w[took Took number min]
        ].freeze
        private_constant :KEPT

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
