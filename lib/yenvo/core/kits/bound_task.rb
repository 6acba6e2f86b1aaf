# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # The template of a task tied to the schema: plans one like the action that makes a task, with dates that may
      # count from the start or target of the kit, or from when the task comes.
      class BoundTask < Actions::BoundMakeTask
        attr_reader :task, :opening

        # @param task [KitTask]
        # @param kit [Kit]
        def initialize(task, kit, kind, schema, path, problems)
          @task = task
          @kit = kit
          super(task.make, kind, schema, Actions::Place.new(path:, index: 0, made: {}), problems)
        end

        # @return [Array<PlannedTask>] one for each person it goes to
        def plan(facts, now:, rule_name:)
          found = super
          return [] unless found.all?(PlannedTask)
          return found unless opening

          opens = opening.plan(facts, now:, rule_name:).first
          found.map { |one| one.with(opens:) }
        end

        # The dates that hang on the start or target of the kit, worked out anew.
        # @return [Hash{Symbol => Due, nil}] by :start, :remind, :due; those that do not hang on it are left out
        def moved(facts, now:) =
          @dates.select { |_, date| %w[start target].include?(date.rule.from) }
            .transform_values { |date| date.work_out(facts, now:) }

        # @return [BoundDate, nil]
        def due = @dates[:due]

        private

        def origin = @origin ||= {kit_task: task.key, under: task.under}.freeze

        def prepare
          super
          return unless task.opens

          @opening =
            Actions::MakeRecord.new(
              task.opens.doing, @kind, @schema, Actions::Place.new(path: path("opens"), index: 0, made: {}), @problems
            )
          @needs += @opening.needs
        end

        def way(written, people_only, *place)
          return super unless Assignment.all.fetch(written["to"]).of_rules?

          wrong([*place, "to"], "must be somebody else; a kit has no rule whose owner there could be")
        end

        def date(rule, *place)
          wrong, counts = (@kit.count == "back") ? ["start", "back from a target"] : ["target", "forward from a start"]
          if [rule, rule.otherwise].compact.any? { |one| one.from == wrong }
            return wrong([*place, "from"], "must not be #{wrong}; this kit counts #{counts}")
          end

          tied(
            BoundDate.bind(
              rule, @kind, @schema, @schema.calendar, path: path(*place), problems: @problems, within_kit: true
            )
          )
        end
      end
    end
  end
end
