# frozen_string_literal: true

module Yenvo
  module Store
    # Queues: the next task from them, giving back, and how they flow.
    class Queues < Base
      FLOW_DAYS = 7

      # Gives a person the next task of some queues: the most urgent, of these the one due first. Two who ask at once
      # never get the same, since each steps over what the other holds.
      # @param queues [Array<String>]
      # @return [Hash, nil] the row of the task, theirs now; nil when nothing waits
      def take_next(queues, cause:)
        root.transaction do
          # What starts later is nobody's to do yet.
          today = calendar.date_of(cause.at)
          found =
            db[:tasks].where(queue: queues, open: true, assignee: nil).where { (start_on =~ nil) | (start_on <= today) }
          soon = found.where(priority: Tasks::PRIORITIES.size - 1).order(:due_at, :id)
          id =
            [soon, found.order(:due_at, :id)].lazy.filter_map { |some| some.limit(1).for_update.skip_locked.get(:id) }
              .first
          id && root.tasks.take(id, cause:)
        end
      end

      # @return [Hash{String => Hash}] by queue: open, late, oldest (Time of the oldest that waits), made and done in
      #   the last days
      def figures(now:)
        keys = schema.queues.keys
        tasks = db[:tasks].where(queue: keys)
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
    end
  end
end
