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
          today = root.calendar.date_of(cause.at)
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
        keys = root.schema.queues.keys
        since = now - (FLOW_DAYS * 86_400)
        waiting = db[:tasks].where(queue: keys, open: true, assignee: nil)
        late = Sequel.function(:sum, Sequel.case([[Sequel[:due_at] <= now, 1]], 0))
        open =
          waiting.group(:queue)
            .select(
              :queue, Sequel.function(:count).*.as(:open), late.as(:late), Sequel.function(:min, :made_at).as(:oldest)
            )
            .as_hash(:queue)
        made =
          db[:tasks].where(queue: keys).where { Sequel[:made_at] >= since }.group_and_count(:queue)
            .as_hash(:queue, :count)
        done =
          db[:tasks].where { Sequel[:done_at] >= since }.where(queue: keys).group_and_count(:queue)
            .as_hash(:queue, :count)
        keys.to_h do |key|
          [
            key,
            {
              open: open.dig(key, :open) || 0, late: open.dig(key, :late).to_i, oldest: open.dig(key, :oldest),
              made: made.fetch(key, 0), done: done.fetch(key, 0)
            }
          ]
        end
      end
    end
  end
end
