# frozen_string_literal: true

module Yenvo
  module Core
    # The registries as plain values, for the editor: what can be watched, asked, done and counted, in words.
    module Vocabulary
      # The families whose names the editor has a table for each.
      NAMED = {
        "ActionName" => -> { Actions.all }, "TriggerName" => -> { Triggers.all }, "TestName" => -> { Operators.all },
        "WayName" => -> { Assignment.all }, "TaskFieldType" => -> { Schema::TaskField::TYPES },
        "ActionTakes" => -> { taken_by(Actions.all) }, "TriggerTakes" => -> { taken_by(Triggers.all) },
        "TestTakes" => -> { Operators.all.map { |_, test| test.takes }.uniq },
        "WayTakes" => -> { taken_by(Assignment.all) },
        "ReceiverName" => -> { Receivers.all }
      }.freeze
      private_constant :NAMED

      module_function

      # @param schema [Schema]
      # @return [Hash]
      def to_h(schema)
        {
          "triggers" => each_of(Triggers.all) { |type| taken(type).merge(of_trigger(type)) },
          "actions" => each_of(Actions.all) { |type| taken(type).merge(saves_of(type)) },
          "functions" => functions, "timing" => Rule::TIMING,
          "tests" => each_of(Operators.all) { |op| of_test(op) },
          "receivers" => each_of(Receivers.all) { |type| taken(type) },
          "ways_to_assign" => each_of(Assignment.all) { |type| taken(type).merge(of_way(type)) },
          "ways" => Schema::TaskField::WAYS, "priorities" => Schema::TaskField::PRIORITIES, "units" => DateRule::UNITS,
          "quiet" => Triggers::QuietTimer::KINDS.map { |name, words| {"name" => name, "words" => words} },
          "ladder" => Actions::LadderStep::DOES, "how_often" => Rule::HOW_OFTEN, "branching" => Rule::BRANCHING,
          "day_off" => DateRule::DAY_OFF, "first_days" => DateRule::FIRST,
          "event" => event(schema), "task" => TaskSide.all(schema),
          "task_fields" => Schema::TaskField.all.map(&:to_h)
        }
      end

      # @return [String] the names as types of TypeScript, so that the compiler asks for what an editor lacks
      def type_script
        types =
          NAMED.map do |type, all|
            "export type #{type} =#{names(all.call).map { |name| "\n  | '#{name}'" }.join}\n"
          end
        "// Written by: bin/yenvo schema names >ui/src/rule/names.ts\n\n#{types.join("\n")}"
      end

      # @return [Array<Symbol>] what the settings of a family can hold
      def taken_by(registry) = registry.flat_map { |_, type| type.takes.values }.uniq
      def of_way(type) = {"needs_fallback" => type.may_fail?, "of_rules" => type.of_rules?}
      def saves_of(type) = {"before_save" => type.before_save?, "after_save" => type.after_save?}
      def names(all) = all.respond_to?(:names) ? all.names : all

      # @return [Array<Hash>] what an event has, as left sides
      def event(schema)
        EventSide::ALL.keys.map do |name|
          field = EventSide.new("event.#{name}", name, schema).field
          choices = field.choices.map(&:to_h)
          {"path" => "event.#{name}", "label" => field.label, "type" => field.type, "choices" => choices}
        end
      end

      def each_of(registry) = registry.map { |name, type| {"name" => name, "words" => type.words, **yield(type)} }
      def taken(type) = {"takes" => type.takes.transform_values(&:to_s)}
      def of_test(test) = {"takes" => test.takes.to_s, "types" => test.types, "own_only" => test.side != :after}

      def of_trigger(type)
        bare = type.allocate
        {
          "before_save" => bare.before_save?, "task" => type.task?, "timer" => bare.timer?,
          "of_task" => type.of_tasks? ? type.task_words : nil
        }
      end

      def functions =
        Formula::Functions::ALL.map do |name, (_, _, example, words)|
          {"name" => name, "example" => example, "words" => words}
        end
    end
  end
end
