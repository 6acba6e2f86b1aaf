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
          draft = root.kits.draft_of(row)
          numbers = root.kits.version_numbers([row[:version_id]].compact)
          by_version = root.copies.by_version(row[:id])
          versions = root.kits.versions(row[:id])
          kit_head(row, draft, numbers, by_version.values.sum).merge(
            kit: draft.to_h, published: row[:version_id] && root.kits.body(row[:version_id]).to_h,
            stamp: row[:draft_stamp], used_by: root.kits.used_by(row[:key]), versions:
              versions.map do |one|
                {
                  number: one[:number], by: one[:published_by], at: stamp(one[:published_at]),
                  running: by_version.fetch(one[:id], 0)
                }
              end
          )
        end

        # @param found [Engine::KitTrying::Found]
        def kit_try(found, now)
          rows = found.tasks.map { |key, task, why| kit_try_row(found, key, task, why, now) }
          {
            anchor:
              found.anchor &&
                {
                  label: found.kit.field&.label || {"event" => "the event", "now" => "now"}.fetch(found.kit.kit.from),
                  on: anchor_day(found.anchor)
                },
            record: {id: found.facts.event.record_id, title: found.facts.after["title"]}, missing:
              (
                if found.anchor.nil? && found.kit.field
                  "#{found.kit.field.label} is empty, so dates that count from it are not known yet."
                end
              ),
            tasks: rows, strip: strip(rows, found.facts)
          }
        end

        # @param rows [Array<Hash>] of the journal: what kits in use did
        def kit_steps(rows)
          rows.zip(root.history.stories(rows)).map do |row, story|
            {
              entry: row[:id], at: stamp(row[:at]), kit: (load(row[:detail]) || {})["kit"].to_s, who: row[:who],
              words: story.to_s, lines: story.lines
            }
          end
        end

        # @param rows [Array<Hash>] of kit_copies
        def copies(rows)
          titles = root.records.titles(rows.map { |row| row[:record_id] })
          names = root.kits.labels(rows.map { |row| row[:kit_id] })
          newest = root.kits.all.to_h { |row| [row[:id], row[:version_id]] }
          numbers = root.kits.version_numbers(rows.map { |row| row[:version_id] } + newest.values.compact)
          states = root.copies.states_of(rows)
          rows.map do |row|
            copy(row, titles[row[:record_id]], names[row[:kit_id]], numbers, newest[row[:kit_id]]).merge(
              copy_tasks(states[row[:id]])
            )
          end
        end

        private

        def kit_head(row, kit, numbers, running)
          {
            **row.slice(:id, :key, :name, :kind), state: kit_state(row),
                                                  version: row[:version_id] && numbers.dig(row[:version_id], :number), mark: mark(row), owner: row[:owner],
                                                  draft: row[:draft] && {by: row[:draft_by], at: stamp(row[:draft_at])}, task_count: kit.tasks.size,
                                                  running:, dates: kit_dates(kit)
          }
        end

        def kit_state(row)
          return "draft" unless row[:version_id]

          row[:retired] ? "retired" : "on"
        end

        def kit_dates(kit)
          from =
            (
              if kit.field?
                schema.kind(kit.kind)&.field(kit.from)&.label || kit.from
              else
                {"event" => "the event", "now" => "now"}.fetch(kit.from)
              end
            )
          "#{kit.count} from #{from}"
        end

        def mark(row) = row && row[:mark] && {letters: row[:mark], ink: row[:ink]}

        def anchor_day(anchor) = (anchor.is_a?(Time) ? calendar.zone.date_of(anchor) : anchor).iso8601

        def kit_try_row(found, key, task, why, now)
          template = found.kit.kit.task(key)
          {
            key:, number: found.kit.kit.number(key), title: task ? task.title : template.title,
            comes: found.kit.comes(template), at_start: found.kit.at_start.include?(key), under: template.under,
            to: task && (task.assignee ? schema.name_of(task.assignee) : schema.queues[task.queue]),
            due: task&.due&.to_h,
            past: !task&.due.nil? && task.due.moment <= now && %w[start target].include?(template.due&.from),
            reason: task&.reason, notes: task ? task.notes : [], trouble: why, row: "", number_of_row: 0
          }
        end

        def copy(row, record, kit, numbers, newest)
          {
            id: row[:id], kit: {id: row[:kit_id], name: kit ? kit[:name] : "a kit that is gone", mark: mark(kit)},
            version: numbers.dig(row[:version_id], :number), newest: newest && numbers.dig(newest, :number),
            record: record&.slice(:id, :title, :kind), state: row[:state], begun_at: stamp(row[:begun_at]),
            begun_by: row[:begun_by], ended_at: stamp(row[:ended_at]), may_change: may_lead_copy?(row)
          }
        end

        def may_lead_copy?(row) = Permissions.new(@asker).lead? || row[:begun_by] == @asker[:key]

        # @param state [Store::Copies::State, nil] nil when the version no longer fits
        def copy_tasks(state)
          unless state
            return (
              {
                tasks: [], done: 0, all: 0, trouble:
                  "The version of the kit that it uses does not fit the set-up any more. Move it to a newer one or " \
                  "stop it."
              }
            )
          end

          progress = state.progress
          by_key = state.tasks.group_by { |task| task[:kit_task] }
          tasks =
            state.kit.kit.phases.flat_map do |phase|
              phase.tasks.map { |task| copy_task(phase, task, state, progress, by_key.fetch(task.key, [])) }
            end
          wanted = tasks.reject { |task| task[:state] == "not_needed" }
          {tasks:, done: wanted.count { |task| task[:state] == "over" }, all: wanted.size, trouble: nil}
        end

        def copy_task(phase, task, state, progress, rows)
          last = rows.last
          {
            key: task.key, number: state.kit.kit.number(task.key), phase: phase.name,
            title: last ? last[:title] : Core::Text.shown(task.title, state.kit.kind, schema),
            state: progress.of(task.key).to_s, comes: state.kit.comes(task), task:
              last &&
                {
                  **last.slice(:id, :state, :answer, :assignee, :queue, :due_on)&.iso8601, redated: last[:redated]
                },
            skipped: rows.empty? && progress.of(task.key) == :over, under: task.under,
            parts: parts_of(task, state.kit.kit, progress)
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
