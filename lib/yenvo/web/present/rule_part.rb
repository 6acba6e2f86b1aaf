# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Rules, and plans of rules.
      module RulePart
        # @param rows [Array<Hash>]
        # @param figures [Hash{Integer => Hash}] by rule
        def rules(rows, figures)
          ids = column(rows, :version_id)
          numbers = root.rules.version_numbers(ids)
          compiled = root.in_force.compiled(ids)
          rows.map do |row|
            bound = compiled[row[:version_id]]
            base(row, numbers).merge(
              **(bound ? words_of(bound) : words(root.rules.draft_of(row))),
              broken: !row[:version_id].nil? && bound.nil?,
              figures: figures(figures.fetch(row[:id], {}))
            )
          end
        end

        # @param row [Hash]
        # @return [Hash] one rule with its draft, the version in force and the list of versions
        def rule(row)
          id = row[:version_id]
          published = id && root.rules.body(id)
          draft = root.rules.draft_of(row)
          bound = id && root.in_force.compiled([id])[id]
          base(row, root.rules.version_numbers([id])).merge(
            **words(draft), broken: !id.nil? && bound.nil?,
            timers: !bound.nil? && (!bound.timing.nil? || bound.later.any?),
            rule: draft.to_h, published: published&.to_h, stamp: row[:draft_stamp],
            changes: (published && row[:draft]) ? Core::RuleChanges.count(published, draft) : 0,
            versions: root.rules.versions(row[:id]).map { |one| version(one) }
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
        def job(row) = pick(row, *JOB)
        # @return [Array<Hash>] the work that moves what hangs on the calendar, under way or lately ended
        def house_jobs = root.jobs.of_house.map { |row| house_job(row) }

        # @param row [Hash] of a job that is no rule's
        def house_job(row) = {**job(row), what: row[:what], note: row[:note]}

        JOB = %i[id rule_id state total looked_at started by at ended_at].freeze
        private_constant :JOB

        # @param pattern [Core::Patterns::Pattern]
        def pattern(pattern)
          rule = pattern.rule
          kind = root.schema.subject(rule.kind)
          wording = Core::Wording.new(kind, root.schema)
          rows = rule.branches.map { |row| [row.conditions.items.map { |item| wording.condition(item) }, row.actions] }
          rows << [["otherwise"], rule.otherwise] if rule.otherwise
          {
            **pattern.slice(:key, :group, :need),
            name: rule.name, kind: kind ? kind_words(kind) : "A list",
            family: rule.kind.split("/").first, trigger: wording.trigger(rule.trigger),
            rows: rows.map { |tests, actions| {if: tests, do: actions.map { |action| wording.action(action) }} }
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
            meets: meets(step), message: step.message&.slice(*READ)
          }

        # What of a message is shown as it would read.
        READ = %w[to cc reply_to subject text leaves_at attach].freeze
        private_constant :READ

        def base(row, numbers)
          {
            **row.slice(:id, :key, :name, :kind, :state, :owner, :position, :paused_because),
            draft: draft_by(row),
            version: numbers[row[:version_id]], mark: mark(row)
          }
        end

        def words(rule)
          # What a rule speaks of is no secret; what it finds is.
          compiled, = Core::CompiledRule.bind(rule, root.schema)
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
          task.to_h.slice(*PLANNED).transform_keys(&:to_sym).merge(row:, number:, to: to_of(task))
        end

        def to_of(task) = schema.called(task.assignee, task.queue)

        # The days on which a branch puts its tasks, with the days off between and the dates of the record.
        def strip(tasks, facts)
          dates = schema.subject(facts.event.kind).own_fields.select { |field| field.type == "date" }
          marks = dates.map { |field| {label: field.label, on: facts.after[field.key]} }.select { |mark| mark[:on] }
          marks.each { |mark| mark[:on] = Date.iso8601(mark[:on]) }
          days = [today, *tasks.filter_map { |task| task.dig(:due, "on") }.map { |text| Date.iso8601(text) }]
          first = days.min - 1
          last = [days.max + 4, first + MAX_STRIP].min
          marks = marks.select { |mark| mark[:on].between?(first, last + 10) }
          last = [last, *marks.map { |mark| mark[:on] + 2 }].max
          {from: first, to: last, today:, days_off: (first..last).reject { |day| calendar.working_day?(day) }, marks:}
        end
        MAX_STRIP = 120
        private_constant :MAX_STRIP
      end
    end
  end
end
