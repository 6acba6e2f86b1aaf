# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # One version of a kit tied to the schema.
      class CompiledKit
        attr_reader :kit, :kind, :id, :key, :version_id, :number, :tasks

        # @param key [String, nil] of the kit in the store
        # @return [Array(CompiledKit, Array<Problem>)] the kit is nil when there are problems
        def self.bind(kit, schema, id: nil, key: nil, version_id: nil, number: nil)
          kind = schema.kind(kit.kind)
          unless kind
            return [
              nil,
              [Problem.at(["record"], "must be one of #{schema.kinds.keys.join(", ")}; #{kit.kind.inspect} is not")]
            ]
          end

          problems = []
          compiled = new(kit, kind, schema, {id:, key:, version_id:, number:}, problems)
          problems.empty? ? [compiled, problems] : [nil, problems]
        end

        def initialize(kit, kind, schema, names, problems)
          @kit = kit
          @kind = kind
          @schema = schema
          @id, @key, @version_id, @number = names.values_at(:id, :key, :version_id, :number)
          check_from(problems)
          check_order(problems)
          @tasks =
            kit.phases.each_with_index
              .flat_map do |phase, p|
                phase.tasks.each_with_index.map do |task, t|
                  [task.key, BoundTask.new(task, kit, kind, schema, ["phases", p, "tasks", t], problems)]
                end
              end
              .to_h
        end

        # @return [Array<Need>] what has to be loaded before its tasks are planned
        def needs = @needs ||= tasks.each_value.flat_map(&:needs).uniq

        # @return [Field, nil] the date field from which it counts
        def field = kit.field? ? kind.field(kit.from) : nil

        # @param facts [Facts]
        # @return [Date, Time, nil] the start or target
        def anchor(facts, now:)
          return {"event" => facts.event.at, "now" => now}.fetch(kit.from) unless kit.field?

          value = facts.after[kit.from]
          value && ((field.type == "date") ? Date.iso8601(value) : Time.iso8601(value))
        end

        # Plans the tasks whose turn has come.
        # @param keys [Array<String>]
        # @param anchor [Date, Time, nil]
        # @return [Array<PlannedTask>]
        # @raise [Error] a sentence, when one cannot be planned
        def come(keys, facts, now:, anchor:)
          anchored = facts.anchored(anchor)
          keys.flat_map { |key| tasks.fetch(key).plan(anchored, now:, rule_name: kit.name) }
        end

        # @return [Array<String>] keys of the tasks that come at the start
        def at_start = @at_start ||= Progress.new(kit, {}).due

        # @return [Boolean] whether any task that comes at the start opens a record
        def opens_at_start? = at_start.any? { |key| tasks[key].task.opens }

        # @param task [KitTask]
        # @return [String] when it comes, such as "after 2, if Unsafe; after 4, if No"
        def comes(task)
          ways = task.after.map { |steps| "after #{steps.map { |step| step_in_words(step) }.join(" and ")}" }.join("; ")
          return ways.empty? ? "at the start" : ways unless task.under

          ["with #{kit.number(task.under)}, whose part it is", *(ways unless ways.empty?)].join(", ")
        end

        private

        def step_in_words(step) = [kit.number(step.task), step.answer && "if #{step.answer}"].compact.join(", ")

        def check_from(problems)
          unless kit.field?
            if kit.count == "back"
              problems << Problem.at(
                ["from"], "must be a date field of the #{kind.noun}, from which a kit can count back"
              )
            end
            return
          end

          found = kind.field(kit.from)
          return if found&.dated? && !found.worked_out?

          problems << Problem.at(
            ["from"],
            (
              if kit.from.empty?
                "must say from which date field it counts back"
              else
                "must be a date field of the #{kind.noun} that is kept; #{(found&.label || kit.from).inspect} is none"
              end
            )
          )
        end

        # Ways in must lead from other tasks, by answers that these ask for, and never round in a circle.
        def check_order(problems)
          keys = kit.tasks.map(&:key)
          problems << Problem.at(["phases"], "must have at least one task") if keys.empty?
          kit.phases.each_with_index do |phase, p|
            phase.tasks.each_with_index do |task, t|
              path = ["phases", p, "tasks", t]
              if keys.count(task.key) > 1
                problems << Problem.at([*path, "key"], "must be another; #{task.key.inspect} stands there twice")
              end
              check_under(task, phase, [*path, "under"], problems) if task.under
              task.after.each_with_index { |steps, i| check_way(task, steps, [*path, "after", i], problems) }
            end
          end
          circle = loop_of(kit) or return
          numbers = circle.map { |key| kit.number(key) }.join(" → ")
          problems << Problem.at(["phases"], "must not go round in a circle: #{numbers}")
        end

        # Parts stand right under their task, and have none of their own.
        def check_under(task, phase, path, problems)
          parent = phase.tasks.take_while { |one| one.key != task.key }.find { |one| one.key == task.under }
          wrong =
            if parent.nil? then "must be a task before it in the same phase; #{Show.quoted(task.under)} is none"
            elsif parent.under then "must be a task that is no part itself"
            elsif kit.parts(task.key).any? then "must be left out, since it has parts of its own"
            end
          problems << Problem.at(path, wrong) if wrong
        end

        def check_way(task, steps, path, problems)
          problems << Problem.at(path, "must name at least one task") if steps.empty?
          steps.each_with_index do |step, i|
            wrong = wrong_step(task, step, kit.task(step.task))
            problems << Problem.at([*path, i], wrong) if wrong
          end
        end

        def wrong_step(task, step, before)
          return "must be a task of this kit; there is no #{Show.quoted(step.task)}" unless before
          return "must be another task than itself" if before.key == task.key
          return if step.answer.nil? || before.answers.include?(step.answer)

          known = ": #{before.answers.join(", ")}" if before.answers.any?
          "must be an answer that task #{kit.number(before.key)} asks for#{known}; #{step.answer.inspect} is none"
        end

        # @return [Array<String>, nil] keys of tasks that come after each other in a circle
        def loop_of(kit)
          clear = Set.new
          kit.tasks.each do |task|
            circle = circle_from(task.key, [], clear, kit)
            return circle.reverse if circle
          end
          nil
        end

        # Walks back over what a task comes after. clear: keys from which no circle can be reached.
        def circle_from(key, trail, clear, kit)
          return [*trail.drop_while { |one| one != key }, key] if trail.include?(key)
          return if clear.include?(key)

          (kit.task(key)&.after || []).flatten.map(&:task).uniq.each do |before|
            circle = circle_from(before, [*trail, key], clear, kit)
            return circle if circle
          end
          clear << key
          nil
        end
      end
    end
  end
end
