# frozen_string_literal: true

module Yenvo
  module Store
    # The dates of kits in use: open tasks follow what they count from, but those re-dated by hand.
    class CopyDates < CopyRows
      # Copies that count from a field which has moved: their open tasks follow, but those re-dated by hand.
      def follow_all(entries, now)
        records = column(entries, :record_id).uniq
        copies = table.where(record_id: records, state: "running").exclude(anchor_field: nil)
        copies.for_update.all.each do |copy|
          moves = entries.select { |entry| entry[:record_id] == copy[:record_id] }.map { |entry| move(entry, copy) }
          depth, from, to = moves.reverse.find { |_, was, is| was != is }
          whole_or_stuck(copy, now) { follow(copy, Journal::Cause.house(now, depth: depth + 1), from:, to:) } if depth
        end
      end

      # Gives open tasks the dates that they have now by the kit, and says in the journal what moved and what did not.
      def redate(state, cause, why, **detail)
        moved =
          redates(state, cause.at).map do |row, columns|
            root.tasks_by_rule.redate(row, columns, cause:, why:)
            from, to = [row[:due_on], columns.fetch(:due_on, row[:due_on])].map { |date| date&.iso8601 }
            {"title" => row[:title], "from" => from, "to" => to}
          end
        kept = state.open.select { |row| row[:redated] }.map { |row| row[:title] }
        return if moved.empty? && kept.empty?

        said = {"why" => why, "moved" => moved, "kept" => kept, **detail.transform_keys(&:to_s)}
        log("kit_dated", state.copy, cause, said, name: state.kit.kit.name)
      end

      # @return [Array<Array(Hash, Hash)>] open tasks, not re-dated by hand, and the columns that differ by the kit as
      #   it is now
      def redates(state, now)
        copy, kit = state.copy, state.kit
        open = state.open.select { |row| !row[:redated] && kit.tasks.key?(row[:kit_task]) }
        return [] if open.empty?

        facts = facts(root.records.row!(copy[:record_id]), kit, Journal::Cause.house(now), nil)
        facts = facts.anchored(anchor_of(copy, kit, facts, now))
        open.filter_map do |row|
          columns = TaskColumns.of_dates(kit.tasks[row[:kit_task]].moved(facts, now: row[:made_at]))
          columns = columns.reject { |name, value| row[name] == value }
          [row, columns] if columns.any?
        end
      end

      private

      def follow(copy, cause, **detail)
        state = state_of(copy)
        redate(state, cause, state.kit.field.label, **detail) if state.kit.kit.moves == "follow"
      end

      # @return [Array(Integer, Object, Object)] depth of an entry, and what its copy counts from before and after it
      def move(entry, copy)
        was, is = [entry[:before], entry[:after]].map { |image| load(image)&.[](copy[:anchor_field]) }
        [entry[:depth], was, is]
      end
    end
  end
end
