# frozen_string_literal: true

module Yenvo
  module Engine
    # Works out from the journal why a rule did or did not run on an event of the past. Evaluation is deterministic, so
    # skips need not be kept: the same core, asked about the same event, gives the same answer.
    class WhyNot
      # A rule that looked at an entry and did not run. entry: row of the journal; rule: Core::CompiledRule; plan:
      # Core::Plan
      Skip = Core::Value.define(:entry, :rule, :plan)

      # @param root [Store::Root]
      def initialize(root)
        @root = root
      end

      # The skips among entries: rules in force at each, whose watched field was touched or record made, that did not
      # run.
      # @param entries [Array<Hash>] rows of the journal
      # @param rule_id [Integer, nil] only of this rule
      # @return [Array<Skip>]
      def skips(entries, rule_id: nil)
        ran =
          @root.runs.of_entries(entries.map { |entry| entry[:id] })
            .transform_values { |runs| runs.map { |run| run[:rule_id] } }
        with_facts(entries) do |entry, facts, book|
          candidates(book, facts.event, rule_id).reject { |rule| ran.fetch(entry[:id], []).include?(rule.id) }
            .map { |rule| Skip.new(entry:, rule:, plan: plan(rule, facts)) }
        end
      end

      # One rule and one event, whatever the rule watches.
      # @return [Skip, nil] nil when the rule was not in force then; its plan may be a run
      def one(entry, rule_id)
        with_facts([entry]) do |row, facts, book|
          rule = book.rules.find { |candidate| candidate.id == rule_id }
          rule ? [Skip.new(entry: row, rule:, plan: plan(rule, facts))] : []
        end.first
      end

      private

      def with_facts(entries)
        views =
          entries.flat_map do |entry|
            event = @root.journal.event(entry)
            @root.journal.views(event, entry[:epoch], timed(event)).map { |view| [entry, view] }
          end
        return [] if views.empty?

        @epochs = entries.to_h { |entry| [entry[:id], entry[:epoch]] }
        needs =
          views.to_h do |entry, view|
            book = @root.in_force.book(entry[:epoch])
            [view, (book.needs(view.kind) + book.needs_before(view.kind)).uniq]
          end.compare_by_identity
        desk = @root.desks.look(now: entries.map { |entry| entry[:at] }.max)
        facts = @root.snapshots.facts(views.map(&:last), desk:, &needs)
        views.zip(facts).flat_map { |(entry, _), seen| yield(entry, seen, @root.in_force.book(entry[:epoch])) }
      end

      # @return [Core::CompiledRule, nil] the rule whose timer it is
      def timed(event)
        version = event.what == "timer_fired" && event.detail["version"]
        version && @root.in_force.compiled([version])[version]
      end

      def candidates(book, event, rule_id)
        # A timer concerns its own rule alone.
        if event.what == "timer_fired"
          return book.matcher.watching(event).select { |rule| rule_id.nil? || rule.id == rule_id }
        end

        # What happens to tasks is told only of rules that watch tasks; there is too much of it.
        about_task = Store::Journal::TASKS.include?(event.what)
        if rule_id
          rule = book.rules.find { |one| one.id == rule_id && one.kind.key == event.kind }
          return [rule].select { |one| one&.trigger&.all&.any? { |trigger| trigger.task? == about_task } }
        end

        book.matcher.watching(event)
      end

      def plan(rule, facts)
        plan = rule.plan(facts, now: facts.event.at) { @root.runs.ran_before?(rule, facts) }
        plan.run? ? fused(rule, facts, plan) : plan
      rescue Core::Error => error
        Core::Plan.skip(:failed, error.message)
      end

      def fused(rule, facts, plan)
        epoch = @epochs && @epochs[facts.event.id]
        blown = rule.rule.fuse && epoch && @root.fuses.kept_from(rule.id, {epoch:})
        blown ? Core::Plan.skip(:fuse, "Its fuse had blown: it #{blown[:why]}", plan.tests) : plan
      end
    end
  end
end
