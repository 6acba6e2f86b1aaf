# frozen_string_literal: true

module Yenvo
  module Store
    # Open tasks in the order in which they are due.
    class Worklist < Part
      PAGE = 100

      # @param assignee, queue [String, nil] whose; both nil for everybody's
      # @param rule [Integer, nil] made by this rule only
      # @param after [Hash, nil] due_at (ISO) and id to go on from
      # @return [Array<Hash>] rows of tasks
      def open(assignee: nil, queue: nil, rule: nil, after: nil, limit: PAGE)
        page(whose(assignee, queue).where(open: true), rule, after, limit)
      end

      # @return [Array<Hash>] what a person finished or dropped since, newest first
      def done(assignee:, since:, limit: PAGE)
        db[:tasks].where(assignee: assignee).where { Sequel[:done_at] >= since }.reverse(:done_at, :id).limit(limit).all
      end

      # @return [Hash] open: number of a person's open tasks; late: of these, how many are late
      def counts(assignee, now:)
        mine = db[:tasks].where(assignee: assignee, open: true)
        {open: mine.count, late: mine.where { Sequel[:due_at] <= now }.count}
      end

      # @return [Hash{String => Integer}] open tasks nobody has taken, by queue
      def queue_counts(queues) = db[:tasks].where(queue: queues, open: true, assignee: nil).group_and_count(:queue).as_hash(:queue, :count)

      # @return [Array<Hash>] open tasks of a record
      def of_record(id, limit: 200) = db[:tasks].where(record_id: id, open: true).order(:due_at, :id).limit(limit).all

      private

      def whose(assignee, queue)
        return db[:tasks].where(queue: queue, assignee: nil) if queue

        assignee ? db[:tasks].where(assignee: assignee) : db[:tasks]
      end

      def page(found, rule, after, limit)
        found = found.where(rule_id: rule) if rule
        if after
          moment = Time.iso8601(after["due_at"])
          found = found.where { Sequel[:due_at] >= moment }.where { (Sequel[:due_at] > moment) | (Sequel[:id] > after["id"]) }
        end
        found.order(:due_at, :id).limit(limit).all
      end
    end
  end
end
