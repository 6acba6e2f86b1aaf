# frozen_string_literal: true

module Yenvo
  module Store
    # Loads the records that lead to records, and tasks, as they were at events: what counts and sums go over.
    class Related < Base
      MOST = 2_000

      def initialize(root, snapshots)
        super(root)
        @snapshots = snapshots
      end

      # @return [Array<Hash>] one for each event, as Core::Facts#related
      def load(events, wanted, linked)
        found = events.map { {} }
        places =
          events.each_index.flat_map do |i|
            wanted[i].select(&:over)
              .filter_map { |need| (id = Snapshots.reach(events[i], need.chain, linked[i])) && [i, id, need.over] }.uniq
          end
        places.group_by(&:last).each do |name, some|
          (name == "tasks") ? tasks(events, some, found) : records(events, name, some, found)
        end
        found
      end

      private

      def records(events, name, places, found)
        kind, field = relation(name)
        # What is thought, and so has no number, looks at what is now.
        past = places.any? { |i, _, _| events[i].id }
        leading = leading(places.map { |_, id, _| id }.uniq, field, past:)
        wanted =
          places.flat_map do |i, target, _|
            entry = events[i].id
            at(leading[target], entry).map { |id| [i, id, entry, target] }
          end
        images = @snapshots.fetch(wanted)
        places.each { |i, target, _| found[i][[target, name]] = [] }
        wanted.each do |i, id, entry, target|
          image = images[[id, entry]]
          found[i][[target, name]] << image if image && image["kind"] == kind
        end
      end

      def relation(name)
        of, field = name.split(".", 2)
        [schema.kind(of) ? of : "entry/#{of}", field]
      end

      # @return [Hash{Integer => Array}] by target: record, first entry, last entry (nil for links that stand)
      def leading(targets, field, past:)
        now =
          db[:links].where(target_id: targets, field:).limit(MOST * targets.size)
            .select_map(%i[target_id record_id entry_id])
        past =
          (
            if past
              db[:past_links].where(target_id: targets, field:).limit(MOST * targets.size)
                .select_map(%i[target_id record_id from_entry to_entry])
            else
              []
            end
          )
        Hash.new { |_, _| [] }
          .merge([*now, *past].group_by(&:first).transform_values { |rows| rows.map { |row| row.drop(1) } })
      end

      # @param entry [Integer, nil] nil for now
      # @return [Array<Integer>] records that led there then
      def at(rows, entry)
        rows.filter_map { |id, from, to| id if entry ? (from <= entry && (to.nil? || to > entry)) : to.nil? }.uniq
          .first(MOST)
      end

      def tasks(events, places, found)
        rows =
          root.task_rows.about(places.map { |_, id, _| id }.uniq).limit(MOST * places.size).all
            .group_by { |row| row[:record_id] }
        places.each do |i, id, name|
          found[i][[id, name]] = rows.fetch(id, []).select { |row| row[:made_at] <= events[i].at }
            .map { |row| TaskImage.of(row, events[i].at) }
        end
      end
    end
  end
end
