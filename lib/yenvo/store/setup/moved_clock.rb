# frozen_string_literal: true

module Yenvo
  module Store
    # By how much the clock of the demo was moved. All processes read it here, so that there is one clock; outside the
    # demo there is no row, and the clock is the real one.
    class MovedClock < Base
      keeps :moved_clock

      FRESH_SECONDS = 0.2
      # Where the clock cannot be moved, it is looked for less often.
      NONE_SECONDS = 5.0

      # Lets the clock of this database be moved.
      def allow
        table.insert_ignore.insert(id: 1, ahead: 0.0)
        @read_at = nil
      end

      # @return [Boolean]
      def allowed? = !table.empty?

      # @return [Array(Float, Time)] seconds ahead, and the moment at which it stands or nil; both nil where it cannot
      #   be moved
      def reading
        tick = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        return @reading if @read_at && tick - @read_at < (@reading[0] ? FRESH_SECONDS : NONE_SECONDS)

        @reading = table.select_map([:ahead, :stands_at]).first || [nil, nil]
        @read_at = tick
        @reading
      end

      # @return [Boolean] whether it is ahead of the real time
      def moved?
        ahead, stands_at = reading
        !stands_at.nil? || ahead.to_f > 1
      end

      # Makes it stand at a moment.
      # @param moment [Time]
      def stand(moment) = write(stands_at: moment)

      # Lets it run on.
      # @param ahead [Float] seconds; never back before the real time
      def run_on(ahead) = write(stands_at: nil, ahead: [ahead, 0.0].max)

      private

      def write(columns)
        table.update(columns)
        @read_at = nil
      end
    end
  end
end
