# frozen_string_literal: true

module Yenvo
  module Store
    # Queues: the next task from them, giving back, and how they flow.
    class Queues < Base
      FLOW_DAYS = 7
      # The orders in which queues are taken from. What has no date is due at the end of all time.
      URGENT = Tasks::PRIORITIES.size - 1
      ORDERS = {
        "due" => [Sequel.case([[{priority: URGENT}, 0]], 1), :due_at, :id],
        "priority" => [Sequel.desc(:priority), :due_at, :id], "age" => %i[made_at id]
      }.freeze
      # How many of a queue are looked at once; more than people would ask in the same moment.
      LOOK = 20

      # @param sight [Sight, nil] of who asks; nil for all tasks
      def initialize(root, sight = nil)
        super(root)
        @sight = sight
      end

      # Gives a person the next task of some queues, of each in its order; among the first of several queues what is
      # urgent goes before, then what is due first. Two who ask at once never get the same, since each steps over what
      # the other holds.
      # @param queues [Array<String>]
      # @return [Hash, nil] the row of the task, theirs now; nil when nothing waits
      def take_next(queues, cause:)
        root.transaction do
          passed = []
          loop do
            rows = heads(queues, cause.at, passed)
            id = rows.lazy.map { |row| row[:id] }.find { |one| free(one) }
            break root.tasks.take(id, cause:) if id
            break if rows.empty?

            passed.concat(column(rows, :id))
          end
        end
      end

      # @return [Hash{String => Hash}] by queue: open, late, oldest (Time of the oldest that waits), made and done in
      #   the last days
      def figures(now:)
        keys = schema.queues.keys
        tasks = all_tasks.where(queue: keys)
        since = now - (FLOW_DAYS * 86_400)
        late = Sequel.function(:sum, Sequel.case([[Sequel[:due_at] <= now, 1]], 0))
        open =
          tasks.where(open: true, assignee: nil).group(:queue).select(
            :queue, Sequel.function(:count).*.as(:open), late.as(:late), Sequel.function(:min, :made_at).as(:oldest)
          ).as_hash(:queue)
        made, done =
          %i[made_at done_at].map do |moment|
            tasks.where { Sequel[moment] >= since }.group_and_count(:queue).as_hash(:queue, :count)
          end
        keys.to_h do |key|
          waits = open.fetch(key, {open: 0, oldest: nil}).slice(:open, :late, :oldest)
          [key, {**waits, late: waits[:late].to_i, made: made.fetch(key, 0), done: done.fetch(key, 0)}]
        end
      end

      private

      def all_tasks = @sight ? @sight.narrow_tasks(db[:tasks]) : db[:tasks]

      # @return [Array<Hash>] what waits at the head of the queues, as it is to be taken; read without locks
      def heads(queues, now, passed)
        # What starts later is nobody's to do yet.
        today = calendar.date_of(now)
        found = all_tasks.where(open: true, assignee: nil).where { (start_on =~ nil) | (start_on <= today) }
        rows =
          db[:queues].where(key: queues).select_hash(:key, :order).map do |queue, order|
            found.where(queue:).exclude(id: passed).order(*ORDERS.fetch(order)).limit(LOOK)
              .select(:id, :priority, :due_at).all
          end
        rows.reject(&:empty?).sort_by { |some| press(some.first) }.flatten
      end

      def press(row) = [-(row[:priority] / URGENT), row[:due_at], row[:id]]

      # Locks a task, unless somebody else has it in hand or has taken it meanwhile.
      def free(id) = db[:tasks].where(id:, open: true, assignee: nil).for_update.skip_locked.get(:id)
    end
  end
end
