# frozen_string_literal: true

module Yenvo
  module Core
    # The registries as plain values, for the editor: what can be watched, asked, done and counted, in words.
    module Vocabulary
      module_function

      # @param schema [Schema]
      # @return [Hash]
      def to_h(schema)
        {
          "triggers" => Triggers.all.map { |name, type| {"name" => name, "words" => type.words, "takes" => type.takes.transform_values(&:to_s), "before_save" => type.allocate.before_save?, "task" => type.task?, "timer" => type.allocate.timer?} },
          "actions" => Actions.all.map { |name, type| {"name" => name, "words" => type.words, "takes" => type.takes.transform_values(&:to_s), "before_save" => type.before_save?} },
          "functions" => Formula::Functions::ALL.map { |name, (_, _, example, words)| {"name" => name, "example" => example, "words" => words} }, "timing" => Rule::TIMING,
          "tests" => Operators.all.map { |name, op| {"name" => name, "words" => op.words, "takes" => op.takes.to_s, "types" => op.types, "own_only" => op.side != :after} },
          "ways_to_assign" => Assignment.all.map { |name, type| {"name" => name, "words" => type.words, "takes" => type.takes.transform_values(&:to_s), "needs_fallback" => type.may_fail?} },
          "ways" => Actions::MakeTask::WAYS, "priorities" => Actions::MakeTask::PRIORITIES, "units" => DateRule::UNITS,
          "quiet" => Triggers::QuietTimer::KINDS.map { |name, words| {"name" => name, "words" => words} }, "ladder" => Actions::LadderStep::DOES, "how_often" => Rule::HOW_OFTEN, "branching" => Rule::BRANCHING, "day_off" => DateRule::DAY_OFF,
          "event" => event(schema), "task" => TaskSide.all(schema)
        }
      end

      # @return [Array<Hash>] what an event has, as left sides
      def event(schema)
        EventSide::ALL.keys.map do |name|
          field = EventSide.new("event.#{name}", name, schema).field
          {"path" => "event.#{name}", "label" => field.label, "type" => field.type, "choices" => field.choices.map(&:to_h)}
        end
      end
    end
  end
end
