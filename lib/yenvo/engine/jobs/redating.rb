# frozen_string_literal: true

module Yenvo
  module Engine
    # Moves open tasks that are due on a day which the changed calendar has off, to the next day of work, at the same
    # time of day. Each move stands in the task's history, as its mover did by hand.
    class Redating
      include StepByStep

      BIT = 200

      # @param job [Hash] row
      # @return [Integer] tasks looked at
      def bit(job, now)
        after = job[:place] ? JSON.parse(job[:place])["id"] : 0
        rows = @root.task_rows.due_after(@root.calendar.date_of(job[:at]), after:).limit(BIT).all
        cause = Store::Journal::Cause.person(job[:by], now)
        moved = rows.count { |row| move(row, cause) }
        rest = (rows.size == BIT) ? {"id" => rows.last[:id]} : nil
        @root.jobs.progress(job, looked_at: rows.size, started: moved, place: rest, now:)
        rows.size
      end

      private

      # @return [Boolean] whether it was moved
      def move(row, cause)
        return false if @root.calendar.working_day?(row[:due_on])

        on = @root.calendar.roll(row[:due_on], "later").iso8601
        at = row[:due_minutes] && Core::ClockTime.show(row[:due_minutes])
        moved? { @root.tasks.put_off(row[:id], on:, at:, cause:) && true }
      end
    end
  end
end
