# frozen_string_literal: true

module Yenvo
  module Engine
    # What rules would do if they met the first rows of a table. Writes nothing.
    class TableRules
      ROWS = 200

      # Of one rule. rule: Core::CompiledRule; runs: on how many rows; tasks: how many it makes.
      Found = Core::Value.define(:rule, :runs, :tasks)

      # @param root [Store::Root]
      def initialize(root, now:)
        @root = root
        @now = now
      end

      # @param import [Hash] row
      # @param sight [Store::Sight] of whoever brings it in
      # @return [Array(Integer, Array<Found>)] rows that were tried, and the rules that would run on any of them
      def of(import, sight)
        plan, = @root.imports.plan(import, sight.access.schema)
        bit = @root.imports.file(import, plan.form).bit(place: 0, line: 0, limit: ROWS)
        verdicts = Store::TableRows.new(@root, plan, sight, import[:by]).verdicts(bit.rows)
        some = verdicts.select { |one| %w[make change].include?(one.what) }
        [some.size, met(some.map { |one| event(one, plan.map.kind, import[:by]) })]
      end

      private

      def event(verdict, kind, who)
        before = verdict.record || {}
        stamp = Core::Reading.moment(@now)
        fresh = {"made" => stamp, "changed" => stamp, "stage_since" => stamp, "visit" => 1, "version" => 1}
        after = (verdict.record ? before : fresh).merge(verdict.values).compact
        Core::Event.new(
          id: nil, what: verdict.record ? "record_changed" : "record_made", kind: kind.key, record_id: before["id"],
          before: before.except("kind"), after: after.except("kind"), who:, at: @now, depth: 0, cause_rule: nil,
          detail: {"door" => BringingTableIn::DOOR}
        )
      end

      def met(events)
        return [] if events.empty?

        book = @root.in_force.book(@root.epoch)
        early = book.before(events[0].kind)
        needs = book.needs(events[0].kind) | book.needs_before(events[0].kind)
        facts = @root.snapshots.facts(events, desk: @root.desks.look(now: @now)) { needs }
        hits = facts.flat_map do |one|
          [early, book.matcher].compact.flat_map { |matcher| matcher.hits(one) { nil } }.map { |rule| [rule, one] }
        end
        hits.group_by(&:first).map { |rule, pairs| found(rule, pairs.map(&:last)) }
      end

      def found(rule, facts)
        Found.new(rule:, runs: facts.size, tasks: facts.sum { |one| tasks(rule, one) })
      end

      def tasks(rule, facts) = rule.plan(facts, now: @now) { false }.task_count
    end
  end
end
