# frozen_string_literal: true

module Yenvo
  module Core
    # A rule as it is written; nothing in it is tied to a schema yet.
    # name: String; kind: key of a kind of record; trigger: Hash with "when" and its settings, or with "any" and a list
    # of such; how_often: one of
    # HOW_OFTEN; branching: "first" or "every"; only_if: Group; branches: Array of Branch; otherwise: Array of actions
    # or nil when there is no such row; timing: "after_save" or "before_save"; every_days: Integer for "once_in_days";
    # fuse: Hash with "per_hour" and "per_record_day", runs after which it pauses itself, or nil.
    Rule =
      Value.define(
        :name, :kind, :trigger, :how_often, :branching, :only_if, :branches, :otherwise, timing: "after_save",
        every_days: nil, fuse: nil
      ) do
        # @return [Hash] as in a rule file, in the order in which people read it
        def to_h
          plain = {
            "format" => Rule::FORMAT, "name" => name, "record" => kind, "trigger" => trigger, "how_often" => how_often,
            "branching" => branching
          }
          plain["run"] = timing unless timing == "after_save"
          plain["every_days"] = every_days if every_days
          plain["fuse"] = fuse if fuse
          plain["only_if"] = only_if.to_h unless only_if == Group.always
          plain["branches"] = branches.map(&:to_h)
          plain["otherwise"] = otherwise.map(&:to_h) if otherwise
          plain
        end

        # @return [Array<Hash>] one, or those of which any will do
        def triggers = trigger["any"] || [trigger]

        # @param schema [Schema]
        # @return [Rule] the same, with the version of each text and paper that it takes; those that are always to be
        #   the newest stay as they are
        def pinned(schema) =
          with(
            branches: branches.map { |branch| branch.with(actions: Rule.pin(branch.actions, schema)) },
            otherwise: otherwise && Rule.pin(otherwise, schema)
          )

        # @return [Array(Group, Array)] conditions and actions of each row; the otherwise has none
        def rows = [*branches.map(&:actions), *(otherwise ? [otherwise] : [])]
      end

    class << Rule
      # @param actions [Array]
      # @return [Array]
      def pin(actions, schema)
        actions.map do |action|
          next action if action.is_a?(Actions::MakeTask)

          {"saved" => schema.texts, "document" => schema.papers}.inject(action) do |done, (name, known)|
            taken = done.settings[name]
            number = taken && known[taken["key"]]&.number
            next done if number.nil? || taken["version"] || taken["newest"]

            done.with(settings: done.settings.merge(name => {**taken, "version" => number}))
          end
        end
      end
    end

    Rule::FORMAT = "yenvo-rule/1"
    Rule::HOW_OFTEN = %w[every_time once_per_task once_per_record once_per_visit once_in_days].freeze
    Rule::TIMING = %w[after_save before_save].freeze
    Rule::FUSE = %w[per_hour per_record_day].freeze
    Rule::MAX_FUSE = 100_000
    Rule::MAX_VERSION = 100_000
    Rule::MAX_DAYS = 3_650
    Rule::BRANCHING = %w[first every].freeze
    Rule::LIMITS = {
      name: 120, triggers: 8, branches: 50, actions: 20, items: 40, depth: 6, values: 200, bytes: 200_000
    }.freeze
  end
end
