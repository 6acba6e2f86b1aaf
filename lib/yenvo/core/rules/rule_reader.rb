# frozen_string_literal: true

module Yenvo
  module Core
    # Reads a rule from plain Hashes and Arrays, as JSON and YAML give them. Finds all that is wrong with its build in
    # one pass; whether its fields exist and its values fit is checked when it is bound to a schema.
    class RuleReader
      KEYS = %w[format name record run trigger how_often every_days fuse branching only_if branches otherwise].freeze
      NEEDED = %w[format name record trigger branches].freeze

      # @param plain [Object]
      # @return [Rule]
      # @raise [InvalidRule] with every problem
      def self.read!(plain)
        reader = new
        rule = reader.read(plain)
        raise InvalidRule.new(reader.problems) if reader.problems.any?

        rule
      end

      attr_reader :problems

      def initialize = @problems = []

      # @return [Rule, nil] nil when there are problems
      def read(plain)
        return unless keys(plain, [], KEYS, NEEDED)

        at = group_at({**USUAL, **plain}, [])
        at.one_of("format", [Rule::FORMAT])
        rule = {
          name: at.text("name", Rule::LIMITS[:name]), kind: at.text("record", 80), trigger: trigger(plain["trigger"]),
          how_often: at.one_of("how_often", Rule::HOW_OFTEN), timing: at.one_of("run", Rule::TIMING),
          every_days: at.read?(:whole, "every_days", 1, Rule::MAX_DAYS), fuse: at.read?(:fuse, "fuse"),
          branching: at.one_of("branching", Rule::BRANCHING), only_if: at.read?(:group, "only_if") || Group.always,
          branches: at.list("branches", Rule::LIMITS[:branches]) { |row, path| branch(row, path) },
          otherwise: at.read?(:actions, "otherwise")
        }
        Rule.new(**rule) if problems.empty?
      end

      USUAL = {"how_often" => "every_time", "run" => "after_save", "branching" => "first"}.freeze
      private_constant :USUAL

      include Shapes

      private

      def fuse(plain, path)
        return unless keys(plain, path, Rule::FUSE)

        plain.slice(*Rule::FUSE).to_h { |name, value| [name, whole(value, [*path, name], 1, Rule::MAX_FUSE)] }
      end

      def trigger(plain)
        return one_trigger(plain, ["trigger"]) unless plain.is_a?(Hash) && plain.key?("any")
        return unless keys(plain, ["trigger"], ["any"])

        all = list(plain["any"], %w[trigger any], Rule::LIMITS[:triggers]) { |one, path| one_trigger(one, path) } || []
        wrong(%w[trigger any], "must name at least one trigger") if all.empty? && problems.empty?
        (all.size == 1) ? all.first : {"any" => all}
      end

      def one_trigger(plain, at)
        return unless keys_of_kind(plain, at, "when", Triggers.all)

        takes = Triggers.all.fetch(plain["when"]).takes
        plain.slice("when", *takes.keys)
          .to_h { |key, value| [key, (key == "when") ? value : setting(value, [*at, key], takes[key])] }
      end

      # Checks that plain is a Hash whose +name+ is in the registry, with no settings but those that kind takes.
      def keys_of_kind(plain, path, name, registry)
        return not_it(path, "must be a group of names and values", plain) unless plain.is_a?(Hash)
        unless registry.key?(plain[name])
          return not_it([*path, name], "must be one of #{registry.names.join(", ")}", plain[name] || nil)
        end

        keys(plain, path, [name, *registry.fetch(plain[name]).takes.keys])
      end

      def setting(value, path, takes)
        case takes
        when :flag then yes_no(value, path)
        when :date then date(value, path)&.to_h
        when :span then span(value, path)
        when :time then time_of_day(value, path)
        when :day_off then one_of(value, path, DateRule::DAY_OFF)
        when :recurrence, :day then text(value, path, Recurrence::MAX_SOURCE)
        when :field, :code then text(value, path, 200)
        else scalars(value, path)
        end
      end

      def time_of_day(value, path) =
        ClockTime.parse(value) ? value : wrong(path, 'must be a time of day such as "09:00"', value)

      def scalars(value, path) = list(value, path, Rule::LIMITS[:values]) { |item, at| scalar(item, at) }

      def group(plain, path, depth = 1)
        return wrong(path, "must be a group of names and values", plain) unless plain.is_a?(Hash)
        unless group?(plain)
          return wrong(path, "must be one of #{Group::MODES.join(", ")} with a list under it", plain.keys.join(", "))
        end
        return wrong(path, "must be nested at most #{Rule::LIMITS[:depth]} deep") if depth > Rule::LIMITS[:depth]

        mode, items = plain.first
        read =
          list(items, [*path, mode], Rule::LIMITS[:items]) do |item, at|
            group?(item) ? group(item, at, depth + 1) : condition(item, at)
          end
        Group.new(mode:, items: read)
      end

      def group?(plain) = plain.is_a?(Hash) && plain.size == 1 && Group::MODES.include?(plain.keys[0])

      def condition(plain, path)
        return unless keys(plain, path, %w[field test value exact], %w[field test])

        at = group_at({"exact" => false, **plain}, path)
        field = at.text("field", Formula::MAX_SOURCE + 2)
        test = at.one_of("test", Operators.all.names)
        exact = plain["exact"].nil? ? false : at.yes_no("exact")
        Condition.new(field:, test:, value: at.read(:operand, "value", test), exact: exact || false) if field && test
      end

      def operand(value, path, test)
        takes = test && Operators.all.fetch(test).takes
        return if value.nil? || takes.nil?
        return wrong(path, "must be left out; #{test} takes none") if takes == :nothing
        return span(value, path) if takes == :span
        return other(value, path) if value.is_a?(Hash)

        (takes == :one) ? scalar(value, path) : scalars(value, path)
      end

      def span(value, path)
        return unless keys(value, path, %w[count unit], %w[count unit])

        at = group_at(value, path)
        {"count" => at.whole("count", 0, Span::MAX_COUNT), "unit" => at.one_of("unit", Span::UNITS)}
      end

      def other(value, path)
        return unless keys(value, path, %w[field], %w[field])

        {"field" => text(value["field"], [*path, "field"], Formula::MAX_SOURCE + 2)}
      end

      def branch(plain, path)
        return unless keys(plain, path, %w[if do], %w[do])

        conditions = plain["if"] ? group(plain["if"], [*path, "if"]) : Group.always
        Branch.new(conditions:, actions: actions(plain["do"], [*path, "do"]))
      end

      def actions(plain, path) = list(plain, path, Rule::LIMITS[:actions]) { |item, at| action(item, at) }

      def action(plain, path)
        return wrong(path, "must be a group of names and values", plain) unless plain.is_a?(Hash)

        # Rules that were written when tasks were all there was say "make" instead.
        plain = {"action" => plain["make"], **plain.except("make")} if plain.key?("make") && !plain.key?("action")
        name = plain["action"]
        unless Actions.all.key?(name)
          return not_it([*path, "action"], "must be one of #{Actions.all.names.join(", ")}", name || nil)
        end

        (name == "task") ? make_task(plain, path) : doing(plain, path)
      end

      def doing(plain, path)
        type = Actions.all.fetch(plain["action"])
        return unless keys(plain, path, ["action", *type.takes.keys], type.required)

        settings =
          plain.slice(*type.takes.keys).compact
            .to_h { |name, value| [name, action_setting(type.takes[name], value, [*path, name])] }
        Actions::Doing.new(name: plain["action"], settings:)
      end

      def action_setting(takes, value, path)
        items = Rule::LIMITS[:items]
        case takes
        when :template then text(value, path, Text::MAX_SOURCE)
        when :assign then way_to_assign(value, path)
        when :group, :date then send(takes, value, path)
        when :settings then list(value, path, items) { |item, at| one_setting(item, at) }.compact
        when :keys then texts(value, path, items, 200)
        when :flag then yes_no(value, path)
        when :time then time_of_day(value, path)
        when :kept then kept(value, path)
        when :attach
          most = Actions::SendMail::ATTACH
          list(value, path, most.size) { |item, at| one_of(item, at, most) }.compact
        when :receivers then list(value, path, Receivers::MOST_WRITTEN) { |item, at| receiver(item, at) }.compact
        when :readings then list(value, path, Actions::CallOut::MOST_READ) { |item, at| reading(item, at) }.compact
        when :ladder then list(value, path, Actions::LadderStep::MOST) { |item, at| ladder_step(item, at) }.compact
        else text(value, path, 200)
        end
      end

      def ladder_step(plain, path)
        return unless keys(plain, path, %w[after do priority assign fallback text], %w[after do])

        at = group_at(plain, path)
        after = at.read(:date, "after")
        does = at.one_of("do", Actions::LadderStep::DOES)
        given = {
          priority: at.text?("priority", 20), text: at.text?("text", Text::MAX_SOURCE),
          assign: at.read?(:way_to_assign, "assign"), fallback: at.read?(:way_to_assign, "fallback")
        }
        Actions::LadderStep.new(after:, does:, **given) if after && does
      end

      def one_setting(plain, path)
        ways = Actions::Setting::WAYS
        return unless keys(plain, path, ["field", *ways], %w[field])

        by, *more = plain.keys & ways
        unless by && more.empty?
          return wrong(path, "must say one of #{ways.join(", ")}", by ? [by, *more] : "nothing")
        end

        at = group_at(plain, path)
        Actions::Setting.new(field: at.text("field", 64), by:, to: set_to(by, plain[by], [*path, by]))
      end

      def set_to(by, value, path)
        case by
        when "value" then value.is_a?(Array) ? scalars(value, path) : scalar(value, path)
        when "date" then date(value, path)
        when "now", "empty" then (value == true) || wrong(path, "must be true", value)
        else text(value, path, Text::MAX_SOURCE)
        end
      end

      def make_task(plain, path)
        given = task_fields(plain, path, "rule", %w[action], %w[title])
        Actions::MakeTask.new(**given) if given
      end

      # @param form [String] in which the task stands
      # @param known [Array<String>] what may stand there besides its fields
      # @param needed [Array<String>] without which it is nothing
      # @return [Hash{Symbol => Object}, nil] the fields that are given
      def task_fields(plain, path, form, known, needed)
        fields = Schema::TaskField.of(form)
        return unless keys(plain, path, [*known, *fields.map(&:key)], needed) && filled(plain, path, needed)

        fields.reject { |field| plain[field.key].nil? }
          .to_h { |field| [field.name, task_field(field, plain[field.key], [*path, field.key])] }
      end

      def task_field(field, value, path)
        case field.type
        when *Schema::TaskField::TEMPLATES then text(value, path, Text::MAX_SOURCE)
        when *Schema::TaskField::DATES then date(value, path)
        when *Schema::TaskField::CHOICES then one_of(value, path, field.choices)
        when "assign" then way_to_assign(value, path)
        when "number", "under" then whole(value, path, 1, Schema::TaskField::MAX_NUMBER)
        when "target" then text(value, path, 200)
        when "fills" then text(value, path, 80)
        when "paper" then paper(value, path)
        when "flag" then yes_no(value, path)
        when "answers"
          list(value, path, Schema::TaskField::MAX_ANSWERS) do |item, at|
            text(item, at, Schema::TaskField::MAX_ANSWER)
          end
        end
      end

      def paper(plain, path)
        return unless keys(plain, path, %w[name text], %w[name text])

        plain.slice("name", "text")
          .to_h { |name, value| [name, text(value, [*path, name], (name == "name") ? 120 : Text::MAX_SOURCE)] }
      end

      # A text or paper of the set-up, in one of its versions.
      def kept(plain, path)
        return unless keys(plain, path, %w[key version newest], %w[key])

        at = group_at(plain, path)
        plain.slice("key", "version", "newest").to_h do |name, value|
          place = [*path, name]
          read =
            case name
            when "key" then at.text("key", 80)
            when "version" then whole(value, place, 1, Rule::MAX_VERSION)
            else yes_no(value, place)
            end
          [name, read]
        end
      end

      # What of a program's answer goes into which field.
      def reading(plain, path)
        return unless keys(plain, path, %w[path field], %w[path field])

        at = group_at(plain, path)
        {"path" => at.text("path", 200), "field" => at.text("field", 64)}
      end

      def receiver(plain, path) = way_to_assign(plain, path, Receivers.all)

      def way_to_assign(plain, path, registry = Assignment.all)
        return unless keys_of_kind(plain, path, "to", registry)

        takes = registry.fetch(plain["to"]).takes
        plain.slice("to", *takes.keys).to_h do |key, value|
          several = %i[persons paths].include?(takes[key])
          at = [*path, key]
          [key, several ? texts(value, at, Assignment::Several::MAX, 200) : text(value, at, 200)]
        end
      end

      # @param inner [Boolean] whether it stands for when a date field is empty; what if that is empty too is not asked
      def date(plain, path, inner: false)
        known = DateRule.members.map(&:to_s) - (inner ? %w[otherwise] : [])
        return unless keys(plain, path, known, %w[count unit])

        at = group_at({"direction" => "after", "from" => "event", "day_off" => "later", **plain}, path)
        DateRule.new(
          count: at.whole("count", 0, DateRule::MAX_COUNT), unit: at.one_of("unit", DateRule::UNITS),
          direction: at.one_of("direction", DateRule::DIRECTIONS), from: at.text("from", 200),
          at: at.read?(:time_of_day, "at"), day_off: at.one_of("day_off", DateRule::DAY_OFF),
          first: at.read?(:first_day, "first"),
          otherwise: plain["otherwise"] && date(plain["otherwise"], [*path, "otherwise"], inner: true)
        )
      end

      def first_day(value, path)
        value.is_a?(Integer) ? whole(value, path, 1, 31) : one_of(value, path, DateRule::FIRST)
      end
    end
  end
end
