# frozen_string_literal: true

module Yenvo
  module Store
    # Where every task comes into being, whoever wants it: by hand, by a rule, by a kit. However many there are, they go
    # in by one insert for the rows and one for their entries, and who has to be told is told.
    class NewTasks < Base
      # A task that is to be made. columns: of its row, which gets its id; cause: Journal::Cause; from: "rule" or "kit"
      # and its name, or an empty Hash; key: what others of the same call stand under it by; under: the key of its
      # parent, or nil; paper:
      # name and text of a file that is attached, or nil.
      New = Core::Value.define(:columns, :cause, from: nil, key: nil, under: nil, paper: nil) do
        def id = columns[:id]

        # @return [Array(String, Integer), nil] kind and id of the record it is about
        def about = columns[:record_id] && columns.values_at(:kind, :record_id)
      end

      # @param wanted [Array<New>]
      # @return [Array<Integer>] their ids
      def write(wanted)
        return [] if wanted.empty?

        ids = insert_all(:tasks, wanted.map(&:columns))
        wanted.zip(ids) { |new, id| new.columns[:id] = id }
        tie(wanted)
        looks = Hash.new { |known, kind| known[kind] = root.in_force.looks_at_task?(kind, "task_made") }
        root.journal.add_all(wanted.map { |new| entry(new, looks) })
        root.told.given(wanted.map { |new| given(new) })
        wanted.each { |new| new.paper && root.attachments.fill(new.id, new.paper, cause: new.cause) }
        root.happened.tasks_touched(wanted.filter_map(&:about).uniq, wanted.first.cause.at)
        ids
      end

      private

      # Parts stand under a task that comes with them.
      def tie(wanted)
        parts = wanted.select(&:under)
        return if parts.empty?

        # Where a task goes to several persons, its parts stand under the first.
        ids = wanted.select(&:key).reverse.to_h { |new| [new.key, new.id] }
        parts.each do |new|
          parent = ids[new.under] or next
          db[:tasks].where(id: new.id).update(parent_id: parent)
          new.columns[:parent_id] = parent
        end
      end

      def entry(new, looks)
        kind, record = new.about
        watched = (kind && new.cause.who) || looks[kind]
        seen = root.task_rows.seen(new.columns, new.cause.at) if watched
        detail = new.columns.slice(:title, :assignee, :queue).merge!(new.from.to_h)
        detail[:task] = seen
        detail.compact!
        ["task_made", new.cause, {task_id: new.id, record_id: record, kind:, detail:}]
      end

      def given(new) = Told::Given.new(row: new.columns, cause: new.cause, from: new.from&.values&.first)
    end
  end
end
