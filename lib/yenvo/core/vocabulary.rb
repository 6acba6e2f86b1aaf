# frozen_string_literal: true

module Yenvo
  module Core
    # The registries as plain values, for the editor: what can be watched, asked, done and counted, in words.
    module Vocabulary
      module_function

      # @return [Hash]
      def to_h
        {
          "triggers" => Triggers.all.map { |name, type| {"name" => name, "words" => type.words, "takes" => type.takes.transform_values(&:to_s)} },
          "tests" => Operators.all.map { |name, op| {"name" => name, "words" => op.words, "takes" => op.takes.to_s, "types" => op.types, "own_only" => op.side != :after} },
          "ways_to_assign" => Assignment.all.map { |name, type| {"name" => name, "words" => type.words, "takes" => type.takes.transform_values(&:to_s), "needs_fallback" => type.may_fail?} },
          "ways" => Actions::MakeTask::WAYS, "priorities" => Actions::MakeTask::PRIORITIES, "units" => DateRule::UNITS,
          "how_often" => Rule::HOW_OFTEN, "branching" => Rule::BRANCHING, "day_off" => DateRule::DAY_OFF
        }
      end
    end
  end
end
