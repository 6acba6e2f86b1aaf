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
          known = (before&.items || []).group_by(&:key)
          items =
            found.items.map do |item|
              same = known[item.key]&.shift || before.nil?
              item_ahead(item).merge(state: same ? "same" : "new")
            end
          gone = known.values.flatten.map { |item| item_ahead(item).merge(state: "gone") }
          items = (items + gone).sort_by.with_index { |item, i| [item[:at], i] }
          {watching: watching || 0, cut: found.cut, items:}
        end

        # @param ones [Array<Engine::Forecast::One>]
        def firings(ones)
          seen(ones) { |one| one }.map do |one|
            {
              at: stamp(one.at), record: one.record && {id: one.record, title: one.title, kind: one.rule.kind.key},
              task: one.task, purpose: one.purpose, runs: one.plan&.run?, branches: one.plan&.branches || [],
              why: one.error || why_seen(one.plan&.why, one.plan&.plain_tests || [], one.rule.kind.key)
            }
          end
        end

        # @param pairs [Array<Array(Engine::Forecast::One, Core::PlannedTask)>]
        def coming(pairs)
          seen(pairs, &:first).map do |one, task|
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

        # @yieldreturn [Engine::Forecast::One]
        def seen(all)
          records = sight.records(all.map { |one| yield(one).record })
          all.select { |one| (id = yield(one).record).nil? || records.include?(id) }
        end

        def item_ahead(item)
          {
            **item.slice(:branch, :what, :title, :depends, :after, :chained), words: veil(item.words),
                                                                              at: stamp(item.at),
                                                                              rule: item.rule && {id: item.rule[0], name: item.rule[1]}, due: item.due&.to_h,
                                                                              who: item.who && (schema.person(item.who)&.name || schema.queue_name(item.who))
          }
        end
      end
    end
  end
end
