# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Rules, and plans of rules.
      module RulePart
        # @param rows [Array<Hash>]
        # @param figures [Hash{Integer => Hash}] by rule
        def rules(rows, figures)
          numbers = root.rules.version_numbers(rows.filter_map { |row| row[:version_id] })
          compiled = root.in_force.compiled(rows.filter_map { |row| row[:version_id] })
          rows.map do |row|
            words = compiled[row[:version_id]] ? words_of(compiled[row[:version_id]]) : words(root.rules.draft_of(row))
            base(row, numbers).merge(
              **words, broken: row[:version_id] ? compiled[row[:version_id]].nil? : false,
              figures: figures(figures.fetch(row[:id], {}))
            )
          end
        end

        # @param row [Hash]
        # @return [Hash] one rule with its draft, the version in force and the list of versions
        def rule(row)
          numbers = root.rules.version_numbers([row[:version_id]].compact)
          published = row[:version_id] && root.rules.body(row[:version_id])
          draft = root.rules.draft_of(row)
          compiled = row[:version_id] && root.in_force.compiled([row[:version_id]])[row[:version_id]]
          base(row, numbers).merge(
            **words(draft), broken: !row[:version_id].nil? && compiled.nil?,
            timers: !compiled.nil? && (!compiled.timing.nil? || compiled.later.any?), rule: draft.to_h,
            published: published&.to_h, stamp: row[:draft_stamp],
            changes: (published && row[:draft]) ? Core::RuleChanges.count(published, draft) : 0, versions:
              root.rules.versions(row[:id])
                .map { |one| {number: one[:number], by: one[:published_by], at: stamp(one[:published_at])} }
          )
        end

        # @param plan [Core::Plan]
        # @param facts [Core::Facts]
        def plan(plan, facts)
          tasks = plan.tasks.map { |row, number, task| planned(row, number, task) }
          others = plan.steps.reject { |_, _, step| step.is_a?(Core::PlannedTask) }
          effects = others.map { |row, number, step| effect(row, number, step) }
          {
            state: plan.state, why: plan.why, branches: plan.branches, tests: plan.plain_tests, tasks:,
            effects:, strip: strip(tasks, facts)
          }
        end

        # @param row [Hash]
        def job(row) =
          {
            **row.slice(:id, :rule_id, :state, :total, :looked_at, :started, :by), at: stamp(row[:at]), ended_at: stamp(row[:ended_at])
          }

        # @param pattern [Core::Patterns::Pattern]
        def pattern(pattern)
          wording = Core::Wording.new(schema.subject(pattern.rule.kind), schema)
          rows =
            pattern.rule.branches.map do |branch|
              {
                if: branch.conditions.items.map { |item| wording.condition(item) },
                do: branch.actions.map { |action| wording.action(action) }
              }
            end
          if pattern.rule.otherwise
            rows << {if: ["otherwise"], do: pattern.rule.otherwise.map { |action| wording.action(action) }}
          end
          kind = schema.subject(pattern.rule.kind)
          {
            key: pattern.key, group: pattern.group, need: pattern.need, name: pattern.rule.name,
            kind: kind ? kind_words(kind) : "A list", family: pattern.rule.kind.split("/").first,
            trigger: wording.trigger(pattern.rule.trigger), rows:
          }
        end

        private

        # How many open tasks a change of tasks would meet now.
        def meets(effect)
          return unless effect.is_a?(Core::Effects::ChangeTasks) && effect.record.is_a?(Integer)

          test = effect.which.to_proc
          open = root.worklist.of_record(effect.record, limit: Store::Tasks::SEVERAL)
          open.count { |row| test.call(Core::Facts.of_task(Store::TaskImage.of(row, now), at: now)) }
        end

        def effect(row, number, step) =
          {
            row:, number:, action: step.action, title: step.words, reason: step.reason, notes: step.notes,
            meets: meets(step)
          }

        def base(row, numbers)
          {
            **row.slice(:id, :key, :name, :kind, :state, :owner),
            version: row[:version_id] && numbers.dig(row[:version_id], :number),
            draft: row[:draft] && {by: row[:draft_by], at: stamp(row[:draft_at])}, position: row[:position],
            paused_because: row[:paused_because], mark: mark(row)
          }
        end

        def words(rule)
          compiled, = Core::CompiledRule.bind(rule, schema)
          return words_of(compiled) if compiled

          {
            sentence: "Not complete yet", by_hand: false, watches:
              "#{kind_words(schema.subject(rule.kind)) || rule.kind}, " \
              "#{rule.triggers.map { |one| Core::Triggers.all.fetch(one["when"]).short }.uniq.join(" or ")}"
          }
        end

        def words_of(compiled) =
          {
            sentence: compiled.sentence,
            by_hand: compiled.trigger.all.any? { |one| one.is_a?(Core::Triggers::ByHand) }, watches:
              "#{kind_words(compiled.kind)}, #{compiled.trigger.short}" \
              "#{" or day" if compiled.timing && !compiled.trigger.timer?}"
          }

        def kind_words(kind) = kind && ((kind.family == "entry") ? kind.plural : kind.label)

        def figures(given)
          median = given[:median_minutes]
          {
            days: given.fetch(:days, Array.new(Store::Figures::DAYS, 0)), failed: given.fetch(:failed, 0),
            runs: given.fetch(:runs, 0), open: given.fetch(:open, 0), done: given.fetch(:done, 0),
            answered_in: median && took(median.round)
          }
        end

        # What a person will see of a task that would be made.
        PLANNED =
          [*Core::Schema::TaskField.of("new").map(&:key), "assignee", "queue", "reason", "notes"].freeze
        private_constant :PLANNED

        def planned(row, number, task)
          to = task.assignee ? schema.name_of(task.assignee) : schema.queues[task.queue]
          task.to_h.slice(*PLANNED).transform_keys(&:to_sym).merge(row:, number:, to:)
        end

        # The days on which a branch puts its tasks, with the days off between and the dates of the record.
        def strip(tasks, facts)
          kind = schema.subject(facts.event.kind)
          marks =
            kind.own_fields.select { |field| field.type == "date" && facts.after[field.key] }
              .map { |field| {label: field.label, on: facts.after[field.key]} }
          days = [today, *tasks.filter_map { |task| task.dig(:due, "on") }.map { |text| Date.iso8601(text) }]
          first = days.min - 1
          last = [days.max + 4, first + 120].min
          marks = marks.select { |mark| Date.iso8601(mark[:on]).between?(first, last + 10) }
          last = [last, *marks.map { |mark| Date.iso8601(mark[:on]) + 2 }].max
          {
            from: first.iso8601, to: last.iso8601, today: today.iso8601,
            days_off: (first..last).reject { |day| calendar.working_day?(day) }.map(&:iso8601), marks:
          }
        end
      end
    end
  end
end
