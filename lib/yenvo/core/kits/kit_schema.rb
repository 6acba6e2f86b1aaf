# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # The JSON Schema (draft 2020-12) of kit files, made from the same registries that read them.
      module KitSchema
        ID = "https://yenvo.example/schema/kit-1.json"

        module_function

        # @return [Hash]
        def to_h
          phase = object({"name" => text(Kit::LIMITS[:name]), "tasks" => list(ref("kit_task"), Kit::LIMITS[:tasks])})
          enums = {"count" => Kit::COUNTS, "day_off" => DateRule::DAY_OFF, "moves" => Kit::MOVES}
          kit = {
            "format" => {"const" => Kit::FORMAT}, "name" => text(Kit::LIMITS[:name]), "record" => text(80),
            "from" => text(64), **enums.transform_values { |names| {"enum" => names} },
            "phases" => list(phase, Kit::LIMITS[:phases])
          }
          shared = RuleSchema.definitions.slice("scalar", "setting", "assign", "date", "date_otherwise")
          {
            "$schema" => RuleSchema::DRAFT, "$id" => ID, "title" => "A kit of Yenvo", **object(kit, KitReader::NEEDED),
            "$defs" => {**shared, "kit_task" => kit_task, "opening" => opening}
          }
        end

        def kit_task
          step = object({"task" => text(40), "answer" => text(60)}, %w[task])
          object(
            {
              "key" => {"type" => "string", "pattern" => "^[a-z0-9_-]{1,40}$"}, **RuleSchema.task_fields("kit"),
              "under" => text(40),
              "after" => list(list(step, Kit::LIMITS[:steps]), Kit::LIMITS[:ways]), "opens" => ref("opening")
            },
            %w[key title]
          )
        end

        def opening
          object(
            {
              "kind" => text(80), "values" => list(ref("setting"), Rule::LIMITS[:items]),
              "same" => list(text(64), Rule::LIMITS[:items]), "link" => text(64), "kit" => text(120)
            },
            %w[kind values]
          )
        end

        def object(...) = RuleSchema.object(...)
        def list(...) = RuleSchema.list(...)
        def text(...) = RuleSchema.text(...)
        def ref(...) = RuleSchema.ref(...)
      end
    end
  end
end
