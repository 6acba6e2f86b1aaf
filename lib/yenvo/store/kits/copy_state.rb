# frozen_string_literal: true

module Yenvo
  module Store
    # Where a kit in use stands, which is what a step of it goes by. copy: Hash, the row, locked; kit:
    # Core::Kits::CompiledKit, nil where its version no longer fits the set-up; tasks: rows of its tasks.
    CopyState =
      Core::Value.define(:copy, :kit, :tasks) do
        # @return [Core::Kits::Progress]
        def progress = Core::Kits::Progress.new(kit.kit, states)

        # Where several persons have the same task, it is over when all have done it; the last answer counts.
        def states
          passed = JSON.parse(copy[:passed]).to_h { |key| [key, Core::Kits::Progress::State.over] }
          passed.merge(tasks.group_by { |row| row[:kit_task] }.transform_values { |rows| state_of(rows) })
        end

        # @return [Array<Hash>] rows of its tasks that are open
        def open = tasks.select { |row| row[:open] }

        # @param key [String] of a task
        # @return [String] as it is called on the record, or as its template reads where it has not come
        def title_of(key, schema)
          tasks.find { |row| row[:kit_task] == key }&.fetch(:title) ||
            Core::Text.shown(kit.kit.task(key).title, kit.kind, schema)
        end

        private

        def state_of(rows)
          return Core::Kits::Progress::State.open if rows.any? { |row| row[:open] }

          last = rows.max_by { |row| [row[:done_at], row[:id]] }
          Core::Kits::Progress::State.over((last[:state] == "done") ? last[:answer] : nil)
        end
      end
  end
end
