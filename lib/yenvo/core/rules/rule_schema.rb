# frozen_string_literal: true

module Yenvo
  module Core
    # The JSON Schema (draft 2020-12) of rule files, made from the same registries that read them.
    module RuleSchema
      DRAFT = "https://json-schema.org/draft/2020-12/schema"
      ID = "https://yenvo.example/schema/rule-1.json"

      module_function

      # @return [Hash]
      def to_h
        enums = {"run" => Rule::TIMING, "how_often" => Rule::HOW_OFTEN, "branching" => Rule::BRANCHING}
        rule = {
          "format" => {"const" => Rule::FORMAT}, "name" => text(Rule::LIMITS[:name]), "record" => text(80),
          "trigger" => {"oneOf" => [ref("trigger"), ref("triggers")]},
          **enums.transform_values { |names| one_of(names) },
          "every_days" => whole(1, Rule::MAX_DAYS), "only_if" => ref("group"), "otherwise" => ref("actions"),
          "fuse" => object(Rule::FUSE.to_h { |name| [name, whole(1, Rule::MAX_FUSE)] }, []),
          "branches" => list(ref("branch"), Rule::LIMITS[:branches])
        }
        {
          "$schema" => DRAFT, "$id" => ID, "title" => "A rule of Yenvo", **object(rule, RuleReader::NEEDED),
          "$defs" => definitions
        }
      end

      # The parts of which a rule is made, by name.
      def definitions
        {
          "trigger" => {"oneOf" => variants("when", Triggers.all)},
          "triggers" => object({"any" => list(ref("trigger"), Rule::LIMITS[:triggers])}),
          "scalar" => {"oneOf" => [text(Reading::MAX_TEXT), {"type" => "number"}, {"type" => "boolean"}]},
          "group" => group,
          "condition" => {"oneOf" => Operators.all.map { |name, operator| condition(name, operator) }},
          "branch" => object({"if" => ref("group"), "do" => ref("actions")}, %w[do]),
          "actions" => list({"oneOf" => [ref("task"), *doings]}, Rule::LIMITS[:actions]), "task" => task,
          "setting" => {"oneOf" => Actions::Setting::WAYS.map { |way| setting(way) }},
          "span" => object({"count" => whole(0, Span::MAX_COUNT), "unit" => one_of(Span::UNITS)}),
          "other" => object({"field" => text(Formula::MAX_SOURCE + 2)}),
          "assign" => {"oneOf" => variants("to", Assignment.all)},
          "receiver" => {"oneOf" => variants("to", Receivers.all)},
          "reading" => object({"path" => text(200), "field" => text(64)}),
          "date" => date("otherwise" => ref("date_otherwise")),
          "date_otherwise" => date, "ladder_step" => ladder_step
        }
      end

      def group
        items = list({"anyOf" => [ref("group"), ref("condition")]}, Rule::LIMITS[:items])
        {**object(Group::MODES.to_h { |mode| [mode, items] }, nil), "minProperties" => 1, "maxProperties" => 1}
      end

      def condition(name, operator)
        several = list(ref("scalar"), Rule::LIMITS[:values])
        value =
          {one: {"oneOf" => [ref("scalar"), ref("other")]}, many: several, pair: several, span: ref("span")}[
            operator.takes
          ]
        object(
          {
            "field" => text(Formula::MAX_SOURCE + 2), "test" => {"const" => name}, "value" => value,
            "exact" => {"type" => "boolean"}
          }.compact,
          %w[field test]
        )
      end

      def variants(name, registry)
        registry.map do |key, type|
          settings =
            type.takes.transform_values do |takes|
              if takes == :flag
                {"type" => "boolean"}
              elsif TIMER_SETTINGS.key?(takes)
                TIMER_SETTINGS[takes]
              elsif %i[field code path person queue team text].include?(takes)
                text(200)
              else
                list(ref("scalar"), Rule::LIMITS[:values])
              end
            end
          object({name => {"const" => key}, **settings}, [name])
        end
      end

      # Settings of timers, by what they take.
      TIMER_SETTINGS = {
        date: {"$ref" => "#/$defs/date"},
        span: {"$ref" => "#/$defs/span"}, time: {"type" => "string", "pattern" => "^([01][0-9]|2[0-3]):[0-5][0-9]$"},
        day_off: {"enum" => DateRule::DAY_OFF}, recurrence: {"type" => "string", "maxLength" => Recurrence::MAX_SOURCE},
        day: {"type" => "string", "format" => "date"},
        quiet: {
          "type" => "array",
          "items" => {"enum" => Triggers::QuietTimer::KINDS.keys}, "maxItems" => Triggers::QuietTimer::KINDS.size
        }
      }.freeze

      def doings
        (Actions.all.names - ["task"]).map do |name|
          type = Actions.all[name]
          object(
            {"action" => {"const" => name}, **type.takes.transform_values { |takes| action_setting(takes) }},
            ["action", *type.required]
          )
        end
      end

      def action_setting(takes)
        case takes
        when :template then text(Text::MAX_SOURCE)
        when :settings then list(ref("setting"), Rule::LIMITS[:items])
        when :receivers then list(ref("receiver"), Receivers::MOST_WRITTEN)
        when :readings then list(ref("reading"), Actions::CallOut::MOST_READ)
        when :flag then {"type" => "boolean"}
        when :kept then kept
        when :attach then list(one_of(Actions::SendMail::ATTACH), Actions::SendMail::ATTACH.size)
        when :time then TIMER_SETTINGS[:time]
        when :keys then list(text(200), Rule::LIMITS[:items])
        when :ladder then list(ref("ladder_step"), Actions::LadderStep::MOST)
        when :assign, :group, :date then ref(takes.to_s)
        else text(200)
        end
      end

      def setting(way)
        to =
          {
            "value" => {"oneOf" => [ref("scalar"), list(ref("scalar"), Rule::LIMITS[:values])]}, "date" => ref("date"),
            "now" => {"const" => true}, "empty" => {"const" => true}
          }.fetch(way) { text(Text::MAX_SOURCE) }
        object({"field" => text(64), way => to}, ["field", way])
      end

      def task = object({"action" => {"const" => "task"}, **task_fields("rule")}, %w[action title])

      # @param form [String] "rule" or "kit"
      # @return [Hash] a schema for each field of a task that stands there
      def task_fields(form) = Schema::TaskField.of(form).to_h { |field| [field.key, task_field(field)] }

      def task_field(field)
        case field.type
        when *Schema::TaskField::TEMPLATES then text(Text::MAX_SOURCE)
        when *Schema::TaskField::DATES then ref("date")
        when *Schema::TaskField::CHOICES then {"enum" => field.choices}
        when "assign" then ref("assign")
        when "number", "under" then whole(1, Schema::TaskField::MAX_NUMBER)
        when "target" then text(200)
        when "fills" then text(80)
        when "paper" then paper
        when "flag" then {"type" => "boolean"}
        when "answers" then list(text(Schema::TaskField::MAX_ANSWER), Schema::TaskField::MAX_ANSWERS)
        end
      end

      def ladder_step
        object(
          {
            "after" => ref("date"), "do" => {"enum" => Actions::LadderStep::DOES},
            "priority" => {"enum" => Schema::TaskField::PRIORITIES},
            "assign" => ref("assign"), "fallback" => ref("assign"), "text" => text(Text::MAX_SOURCE)
          },
          %w[after do]
        )
      end

      def kept
        version = whole(1, Rule::MAX_VERSION)
        object({"key" => text(80), "version" => version, "newest" => {"type" => "boolean"}}, %w[key])
      end

      def paper = object({"name" => text(120), "text" => text(Text::MAX_SOURCE)}, %w[name text])

      def date(more = {})
        object(
          {
            "first" => {"oneOf" => [{"enum" => DateRule::FIRST}, whole(1, 31)]}, **more,
            "count" => whole(0, DateRule::MAX_COUNT), "unit" => {"enum" => DateRule::UNITS},
            "direction" => {"enum" => DateRule::DIRECTIONS},
            "from" => text(200), "at" => {"type" => "string", "pattern" => "^([01][0-9]|2[0-3]):[0-5][0-9]$"},
            "day_off" => {"enum" => DateRule::DAY_OFF}
          },
          %w[count unit]
        )
      end

      # @param required [Array<String>, nil] all of them when not given
      def object(properties, required = properties.keys)
        {
          "type" => "object", "properties" => properties, "required" => required, "additionalProperties" => false
        }.compact
      end

      def one_of(names) = {"enum" => names}

      def list(items, most) = {"type" => "array", "items" => items, "maxItems" => most}
      def text(most) = {"type" => "string", "maxLength" => most}
      def whole(least, most) = {"type" => "integer", "minimum" => least, "maximum" => most}
      def ref(name) = {"$ref" => "#/$defs/#{name}"}
    end
  end
end
