# frozen_string_literal: true

module Yenvo
  module Core
    # Reads a rule from plain Hashes and Arrays, as JSON and YAML give them. Finds all that is wrong with its build in
    # one pass; whether its fields exist and its values fit is checked when it is bound to a schema.
    class RuleReader
      KEYS = %w[format name record trigger how_often branching only_if branches otherwise].freeze
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

        wrong(["format"], "must be #{Rule::FORMAT}", plain["format"]) unless plain["format"] == Rule::FORMAT
        rule = {name: text(plain["name"], ["name"], Rule::LIMITS[:name]), kind: text(plain["record"], ["record"], 80),
                trigger: trigger(plain["trigger"]),
                how_often: one_of(plain.fetch("how_often", "every_time"), ["how_often"], Rule::HOW_OFTEN),
                branching: one_of(plain.fetch("branching", "first"), ["branching"], Rule::BRANCHING),
                only_if: plain["only_if"] ? group(plain["only_if"], ["only_if"]) : Group.always,
                branches: list(plain["branches"], ["branches"], Rule::LIMITS[:branches]) { |row, path| branch(row, path) },
                otherwise: plain["otherwise"] && actions(plain["otherwise"], ["otherwise"])}
        Rule.new(**rule) if problems.empty?
      end

      private

      def wrong(path, expected, given = nil)
        shown = given.nil? ? "" : "; #{shorten(given)} is not"
        problems << Problem.at(path, expected + shown)
        nil
      end

      def shorten(given) = (given.inspect.size > 50) ? "#{given.inspect[0, 49]}…" : given.inspect

      def keys(plain, path, known, needed = [])
        return wrong(path, "must be a group of names and values", plain.nil? ? "nothing" : plain) unless plain.is_a?(Hash)

        (plain.keys - known).each { |key| wrong([*path, key.to_s], "must not be there; known here: #{known.join(", ")}") }
        (needed - plain.keys).each { |key| wrong([*path, key], "must be given") }
        (needed - plain.keys).empty?
      end

      def text(value, path, most)
        return wrong(path, "must be a text", value.nil? ? "nothing" : value) unless value.is_a?(String)
        return wrong(path, "must have at most #{most} characters; this has #{value.size}") if value.size > most

        value
      end

      def one_of(value, path, known) = if known.include?(value)
                                         value
                                       else
                                         wrong(path, "must be one of #{known.join(", ")}", value.nil? ? "nothing" : value)
                                       end

      def list(value, path, most)
        return wrong(path, "must be a list", value.nil? ? "nothing" : value) || [] unless value.is_a?(Array)
        return wrong(path, "must have at most #{most} items; this has #{value.size}") || [] if value.size > most

        value.each_with_index.map { |item, index| yield(item, [*path, index]) }.freeze
      end

      def trigger(plain)
        return unless keys_of_kind(plain, ["trigger"], "when", Triggers.all)

        takes = Triggers.all.fetch(plain["when"]).takes
        plain.to_h { |key, value| [key, (key == "when") ? value : setting(value, ["trigger", key], takes[key])] }
      end

      # Checks that plain is a Hash whose +name+ is in the registry, with no settings but those that kind takes.
      def keys_of_kind(plain, path, name, registry)
        return wrong(path, "must be a group of names and values", plain.nil? ? "nothing" : plain) unless plain.is_a?(Hash)
        return wrong([*path, name], "must be one of #{registry.names.join(", ")}", plain[name] || "nothing") unless registry.key?(plain[name])

        keys(plain, path, [name, *registry.fetch(plain[name]).takes.keys])
      end

      def setting(value, path, takes)
        case takes
        when :stages, :values then list(value, path, Rule::LIMITS[:values]) { |item, at| scalar(item, at) }
        else text(value, path, 200)
        end
      end

      def scalar(value, path)
        case value
        when String then text(value, path, Reading::MAX_TEXT)
        when Integer, Float, true, false then value
        else wrong(path, "must be a text, a number, yes (true) or no (false)", value.nil? ? "nothing" : value)
        end
      end

      def group(plain, path, depth = 1)
        return wrong(path, "must be a group of names and values", plain) unless plain.is_a?(Hash)
        return wrong(path, "must be one of #{Group::MODES.join(", ")} with a list under it", plain.keys.join(", ")) unless plain.size == 1 && Group::MODES.include?(plain.keys[0])
        return wrong(path, "must be nested at most #{Rule::LIMITS[:depth]} deep") if depth > Rule::LIMITS[:depth]

        mode, items = plain.first
        read = list(items, [*path, mode], Rule::LIMITS[:items]) do |item, at|
          (item.is_a?(Hash) && item.size == 1 && Group::MODES.include?(item.keys[0])) ? group(item, at, depth + 1) : condition(item, at)
        end
        Group.new(mode: mode, items: read)
      end

      def condition(plain, path)
        return unless keys(plain, path, %w[field test value], %w[field test])

        field = text(plain["field"], [*path, "field"], 200)
        test = one_of(plain["test"], [*path, "test"], Operators.all.names)
        Condition.new(field: field, test: test, value: operand(plain, path, test)) if field && test
      end

      def operand(plain, path, test)
        case test && Operators.all.fetch(test).takes
        when :nothing then plain["value"].nil? ? nil : wrong([*path, "value"], "must be left out; #{test} takes none")
        when :many, :pair then plain["value"].nil? ? nil : list(plain["value"], [*path, "value"], Rule::LIMITS[:values]) { |item, at| scalar(item, at) }
        when :one then plain["value"].nil? ? nil : scalar(plain["value"], [*path, "value"])
        end
      end

      def branch(plain, path)
        return unless keys(plain, path, %w[if do], %w[do])

        conditions = plain["if"] ? group(plain["if"], [*path, "if"]) : Group.always
        Branch.new(conditions: conditions, actions: actions(plain["do"], [*path, "do"]))
      end

      def actions(plain, path) = list(plain, path, Rule::LIMITS[:actions]) { |item, at| action(item, at) }

      def action(plain, path)
        return wrong(path, "must be a group of names and values", plain) unless plain.is_a?(Hash)
        return wrong([*path, "make"], "must be one of #{Actions.all.names.join(", ")}", plain["make"] || "nothing") unless Actions.all.key?(plain["make"])

        make_task(plain, path)
      end

      def make_task(plain, path)
        type = Actions::MakeTask
        return unless keys(plain, path, ["make", *type.members.map(&:to_s)], %w[title])

        given = plain.except("make").compact.to_h { |name, value| [name.to_sym, task_field(name, value, [*path, name])] }
        type.of(**given)
      end

      def task_field(name, value, path)
        case name
        when "title", "text", "web_link" then text(value, path, Text::MAX_SOURCE)
        when "way" then one_of(value, path, Actions::MakeTask::WAYS)
        when "priority" then one_of(value, path, Actions::MakeTask::PRIORITIES)
        when "assign", "fallback" then way_to_assign(value, path)
        when "start", "remind", "due" then date(value, path)
        when "place", "under" then whole(value, path, 1, 999)
        when "answers" then list(value, path, Actions::MakeTask::MAX_ANSWERS) { |item, at| text(item, at, 60) }
        end
      end

      def way_to_assign(plain, path)
        return unless keys_of_kind(plain, path, "to", Assignment.all)

        plain.to_h { |key, value| [key, text(value, [*path, key], 200)] }
      end

      def date(plain, path)
        return unless keys(plain, path, DateRule.members.map(&:to_s), %w[count unit])

        at = plain["at"]
        wrong([*path, "at"], 'must be a time of day such as "09:00"', at) unless at.nil? || ClockTime.parse(at)
        DateRule.new(count: whole(plain["count"], [*path, "count"], 0, DateRule::MAX_COUNT),
          unit: one_of(plain["unit"], [*path, "unit"], DateRule::UNITS),
          direction: one_of(plain.fetch("direction", "after"), [*path, "direction"], DateRule::DIRECTIONS),
          from: text(plain.fetch("from", "event"), [*path, "from"], 200), at: at,
          day_off: one_of(plain.fetch("day_off", "later"), [*path, "day_off"], DateRule::DAY_OFF))
      end

      def whole(value, path, least, most)
        return value if value.is_a?(Integer) && value.between?(least, most)

        wrong(path, "must be a whole number from #{least} to #{most}", value.nil? ? "nothing" : value)
      end
    end
  end
end
