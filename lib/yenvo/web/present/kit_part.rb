# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Kits, and kits in use.
      module KitPart
        # @param rows [Array<Hash>]
        def kits(rows)
          numbers = root.kits.version_numbers(rows.filter_map { |row| row[:version_id] })
          running = root.copies.running(rows.map { |row| row[:id] })
          written = root.kits.drafts_of(rows)
          rows.map { |row| kit_head(row, written[row[:id]], numbers, running.fetch(row[:id], 0)) }
        end

        # @param row [Hash]
        def kit(row)
          id, version_id = row.values_at(:id, :version_id)
          draft = root.kits.draft_of(row)
          numbers = root.kits.version_numbers([version_id])
          running = root.copies.by_version(id)
          versions = root.kits.versions(id).map { |one| version(one).merge(running: running.fetch(one[:id], 0)) }
          kit_head(row, draft, numbers, running.values.sum).merge(
            kit: draft.to_h, published: version_id && root.kits.body(version_id).to_h, stamp: row[:draft_stamp],
            used_by: root.kits.used_by(row[:key]), versions:
          )
        end

        # @param found [Engine::KitTrying::Found]
        def kit_try(found, now)
          kit = found.kit
          rows = found.tasks.map { |key, task, why| kit_try_row(kit, key, task, why, now) }
          {
            anchor: found.anchor && {label: counted_from(kit.kit), on: anchor_day(found.anchor)},
            record: {id: found.facts.record_id, title: found.facts.after["title"]}, missing:
              if found.anchor.nil? && kit.field
                "#{kit.field.label} is empty, so dates that count from it are not known yet."
              end,
            tasks: rows, strip: strip(rows, found.facts)
          }
        end

        # @param rows [Array<Hash>] of the journal: what kits in use did
        def kit_steps(rows)
          rows.zip(history.stories(rows)).map do |row, story|
            {
              **pick(row, :at, :who),
              entry: row[:id], kit: (load(row[:detail]) || {})["kit"].to_s, words: story.to_s,
              lines: story.lines
            }
          end
        end

        # @param rows [Array<Hash>] of kit_copies
        def copies(rows)
          titles = titles_of(rows)
          names = root.kits.labels(column(rows, :kit_id))
          newest = root.kits.newest
          numbers = root.kits.version_numbers(column(rows, :version_id) + newest.values)
          states = root.copies.states_of(rows)
          rows.map do |row|
            copy(row, titles, names).merge(
              version: numbers[row[:version_id]], newest: numbers[newest[row[:kit_id]]], **copy_tasks(states[row[:id]])
            )
          end
        end

        private

        def kit_head(row, kit, numbers, running)
          {
            **row.slice(:id, :key, :name, :kind, :owner),
            state: kit_state(row), version: numbers[row[:version_id]],
            mark: mark(row), draft: draft_by(row), task_count: kit.tasks.size, running:,
            dates: "#{kit.count} from #{counted_from(kit)}"
          }
        end

        def kit_state(row)
          return "draft" unless row[:version_id]

          row[:retired] ? "retired" : "on"
        end

        # What the dates of a kit count from, as people call it.
        def counted_from(kit)
          return {"event" => "the event", "now" => "now"}.fetch(kit.from) unless kit.field?

          schema.kind(kit.kind)&.field(kit.from)&.label || kit.from
        end

        def mark(row) = row && row[:mark] && {letters: row[:mark], ink: row[:ink]}

        def anchor_day(anchor) = (anchor.is_a?(Time) ? calendar.date_of(anchor) : anchor).iso8601

        def kit_try_row(bound, key, task, why, now)
          template = bound.kit.task(key)
          from_start = %w[start target].include?(template.due&.from)
          {
            key:, number: bound.kit.number(key), title: (task || template).title, comes: bound.comes(template),
            at_start: bound.at_start.include?(key), under: template.under, to: task && to_of(task),
            due: task&.due&.to_h,
            past: from_start && !task&.due.nil? && task.due.moment <= now, reason: task&.reason,
            notes: task&.notes || [],
            trouble: why, row: "", number_of_row: 0
          }
        end

        def copy(row, titles, kits)
          {
            **pick(row, :id, :state, :begun_at, :begun_by, :ended_at),
            may_change: may_lead_copy?(row),
            kit: named(row[:kit_id], kits, "kit").merge(mark: mark(kits[row[:kit_id]])), record: titles[row[:record_id]]
          }
        end

        def may_lead_copy?(row) = Permissions.new(@asker, schema).lead? || row[:begun_by] == @asker[:key]

        # @param state [Store::CopyState, nil] nil when the version no longer fits
        def copy_tasks(state)
          return {tasks: [], done: 0, all: 0, trouble: UNFIT} unless state

          by_key = state.tasks.group_by { |task| task[:kit_task] }
          tasks =
            state.kit.kit.phases.flat_map do |phase|
              phase.tasks.map { |task| copy_task(task, state, by_key.fetch(task.key, [])).merge(phase: phase.name) }
            end
          wanted = tasks.reject { |task| task[:state] == "not_needed" }
          {tasks:, done: wanted.count { |task| task[:state] == "over" }, all: wanted.size, trouble: nil}
        end
        UNFIT =
          "The version of the kit that it uses does not fit the set-up any more. Move it to a newer one or stop it."
        private_constant :UNFIT

        def copy_task(task, state, rows)
          bound = state.kit
          last = rows.last
          phase = state.progress.of(task.key)
          {
            **task.slice(:key, :under),
            number: bound.kit.number(task.key), state: phase.to_s, comes: bound.comes(task),
            title: last ? last[:title] : Core::Text.shown(task.title, bound.kind, schema),
            task: last&.slice(:id, :state, :answer, :assignee, :queue, :due_on, :redated),
            skipped: last.nil? && phase == :over, parts: parts_of(task, bound.kit, state.progress)
          }
        end

        # @return [Hash, nil] how many parts of a task are over; nil where it has none
        def parts_of(task, kit, progress)
          all = kit.parts(task.key).map { |part| progress.of(part.key) } - [:not_needed]
          {done: all.count(:over), all: all.size} unless kit.parts(task.key).empty?
        end
      end
    end
  end
end
