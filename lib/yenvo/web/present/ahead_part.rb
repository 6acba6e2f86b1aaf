# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # What lies ahead: of a record, of a rule, of a person.
      module AheadPart
        # @param found [Core::Ahead::Result]
        # @param watching [Integer] rules in force that watch the kind
        # @param before [Core::Ahead::Result, nil] what lies ahead as it is, where something is thought to change
        def ahead(found, watching:, before: nil)
          known = before ? before.items.group_by(&:key) : {}
          items =
            visible(found.items, &:about).map do |item|
              same = known[item.key]&.shift || before.nil?
              item_ahead(item).merge(state: same ? "same" : "new")
            end
          gone = visible(known.values.flatten, &:about).map { |item| item_ahead(item).merge(state: "gone") }
          {watching: watching || 0, cut: found.cut, items: (items + gone).sort_by.with_index { |one, i| [one[:at], i] }}
        end

        # @param ones [Array<Engine::Forecast::One>]
        def firings(ones)
          visible(ones, &:record).map do |one|
            {
              at: stamp(one.at), record: one.record && {id: one.record, title: one.title, kind: one.rule.kind.key},
              task: one.task, purpose: one.purpose, runs: one.plan&.run?, branches: one.plan&.branches || [],
              why: one.error || why_seen(one.plan&.why, one.plan&.plain_tests || [], one.rule.kind.key)
            }
          end
        end

        # @param pairs [Array<Array(Engine::Forecast::One, Core::PlannedTask)>]
        def coming(pairs)
          pairs = visible(pairs) { |one, _| one.record }
          visible(pairs) { |_, task| task.about if task.about.is_a?(Integer) }.map do |one, task|
            {
              at: stamp(one.at), title: task.title, way: task.way, priority: task.priority,
              record: one.record && {id: one.record, title: one.title, kind: one.rule.kind.key},
              rule: one.rule.named, due: task.due&.to_h, depends: one.plan.depends.first(2)
            }
          end
        end

        # What is left for later about a task: the next step of its ladders.
        # @param task [Hash] row
        def later_of_task(task)
          rows = root.timers.of_task(task[:id])
          rules = root.in_force.of_rows(rows)
          rows.filter_map do |row|
            rule = rules[row[:version_id]]
            index = rule&.row_index(row[:branch])
            ladder = index && rule.action(index, row[:action])
            if ladder.is_a?(Core::Actions::Ladder)
              {at: stamp(row[:due_at]), words: ladder.step_shown(row[:step]), rule: rule.named}
            end
          end
        end

        private

        # @yieldreturn [Integer, nil] id of the record that it is about
        # @return [Array] those about nothing else, or about what is seen
        def visible(all)
          records = all.map { |one| yield(*one) }
          seen = sight.records(records)
          all.zip(records).select { |_, id| id.nil? || seen.include?(id) }.map(&:first)
        end

        def item_ahead(item)
          {
            **item.slice(:branch, :what, :title, :depends, :after, :chained),
            words: veil(item.words), at: stamp(item.at), due: item.due&.to_h,
            rule: item.rule && {id: item.rule[0], name: item.rule[1]},
            who: item.who && (schema.person(item.who)&.name || schema.queue_name(item.who))
          }
        end
      end
    end
  end
end
