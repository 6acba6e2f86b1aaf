# frozen_string_literal: true

module Yenvo
  module Engine
    # Moves the clock of the demo forward: it stands at one moment after the other while all that is due happens, so
    # that every process of this Yenvo sees the same time, and runs on from where it was moved to.
    class MovingClock
      MOST_DAYS = 3_660
      WORDS = {
        "task_made" => "made", "task_done" => "finished", "task_dropped" => "dropped", "task_late" => "late",
        "timer_fired" => "fired"
      }.freeze

      # @param root [Store::Root]
      # @param clock [Clock]
      def initialize(root, clock)
        @root = root
        @clock = clock
      end

      # @param days [Numeric, nil]
      # @param to [String, nil] a date or moment by the wall clock
      # @return [Time]
      # @raise [Core::Error]
      def target(days: nil, to: nil)
        return forward(@clock.now + (days * 86_400)) if days

        parts = /\A(\d{4}-\d{2}-\d{2})(?:[T ](\d{2}:\d{2}))?\z/.match(to) or
          raise Core::Error, "#{to.inspect} is no date; write one such as 2026-12-31, or 2026-12-31T09:00."
        minutes = Core::ClockTime.parse(parts[2] || "08:00") or raise Core::Error, "#{parts[2]} is no time of day."
        forward(@root.calendar.zone.at(Date.iso8601(parts[1]), minutes))
      rescue Date::Error
        raise Core::Error, "#{to.inspect} is no day of the calendar."
      end

      # @param to [Time]
      # @yieldparam moment [Time]
      # @yieldparam line [String] what happened then, in a few words
      def go(to)
        seen = @root.db[:journal].max(:id) || 0
        Passing.new(@root, clock: Standing.new(@root, @clock), worker: Patient.new(@root, @clock))
          .pass(from: @clock.now, to:) do |moment|
            last = @root.db[:journal].max(:id) || 0
            line = happened(seen)
            seen = last
            yield(moment, line) if line && block_given?
          end
      ensure
        @root.moved_clock.run_on(@clock.now - @clock.plain)
      end

      # @return [String] how it stands
      def words
        ahead = @clock.now - @clock.plain
        if ahead < 60
          "The clock is the real one: #{show(@clock.now)}."
        else
          "The clock stands at #{show(@clock.now)}, #{Core::Show.number((ahead / 86_400).round(1))} days ahead."
        end
      end

      # @return [String] a moment by the wall clock
      def show(moment) = Core::Show.moment(moment, @root.schema.zone)

      private

      def forward(moment)
        if moment <= @clock.now
          raise Core::Error, "The clock only goes forward; it stands at #{show(@clock.now)} already."
        end
        if moment > @clock.now + (MOST_DAYS * 86_400)
          raise Core::Error, "That is more than #{MOST_DAYS} days ahead; move it bit by bit."
        end

        moment
      end

      # @return [String, nil] such as "3 timers fired, 2 tasks made"
      def happened(after)
        counts =
          @root.db[:journal].where { id > after }.where(what: WORDS.keys).group_and_count(:what).as_hash(:what, :count)
        parts =
          WORDS.filter_map do |what, word|
            (count = counts[what]) &&
              "#{count} #{(what == "timer_fired") ? "timer" : "task"}#{"s" if count > 1} #{word}"
          end
        parts.any? ? parts.join(", ") : nil
      end

      # The clock as Passing sets it.
      Standing = Struct.new(:root, :clock) do
        def now = clock.now
        def go(moment) = root.moved_clock.stand(moment)
      end

      # Settles all that waits, also what a worker beside it has in hand.
      class Patient
        PATIENCE_SECONDS = 20
        REST_SECONDS = 0.02

        def initialize(root, clock)
          @root = root
          @clock = clock
          @worker = Worker.new(root, clock:)
          @bell = Bell.new
        end

        def drain
          ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + PATIENCE_SECONDS
          loop do
            @worker.drain
            break unless in_hand? && Process.clock_gettime(Process::CLOCK_MONOTONIC) < ends

            @bell.wait(REST_SECONDS)
          end
        end

        private

        # Entries that were set aside wait for longer than anybody would.
        def in_hand?
          now = @clock.now
          !@root.db[:waiting].where(not_before: nil).empty? || !@root.db[:timers].where { due_at <= now }.empty? ||
            @root.jobs.under_way?
        end
      end
      private_constant :Standing, :Patient
    end
  end
end
