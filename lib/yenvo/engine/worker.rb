# frozen_string_literal: true

require "io/wait"

module Yenvo
  module Engine
    # Takes turns until it is told to stop. Any number of workers share a database; none has a memory that matters.
    class Worker
      MAX_PAUSE = 5
      # Errors after which the same turn may go well: the database went away, or two transactions were in each other's
      # way.
      PASSING = [*Store::Root::PASSING, Store::Uncertain].freeze
      # After turns of others' that went well a smaller one grows again.
      GROWS_BY = 2

      # @param root [Store::Root]
      # @param clock [Clock]
      # @param poll_seconds [Float] rest when there is nothing to do
      # @param batch_size [Integer] entries a turn
      # @param papers [Integer] papers printed in one go, a tenth of a second each
      def initialize(root, clock:, poll_seconds: 0.2, batch_size: 50, papers: 5, log: SemanticLogger["Worker"])
        @papers = papers
        @root = root
        @clock = clock
        @poll_seconds = poll_seconds
        @batch_size = batch_size
        @log = log
        @turn = Turn.new(root, log:)
        @firing = Firing.new(root, @turn)
        @jobs = LongWork.new(root)
        @bell = Bell.new
        @careful = 0
        @failures = 0
        @at_once = batch_size
      end

      # Runs until +stop+.
      def run
        @bell.wait(turn) until @stopping
        @log.info("stopped")
      end

      # Ends after the turn at hand. Safe in a signal handler.
      def stop
        @stopping = true
        @bell.ring
      end

      # Takes turns until nothing waits.
      # @return [Integer] entries settled
      def drain
        total = 0
        loop do
          settled = @turn.take(limit: @batch_size, now: @clock.now)
          # What has happened is settled before anything else comes due.
          settled = fire if settled.zero?
          total += settled
          return total if settled.zero? && at_leisure.zero?
        end
      end

      # @return [Numeric] seconds to rest before the next turn
      def turn
        settled = @turn.take(limit: @careful.positive? ? 1 : @at_once, now: @clock.now)
        @careful -= 1 if @careful.positive?
        @failures = 0
        @at_once = [@at_once * GROWS_BY, @batch_size].min if settled.positive?
        settled += fire if settled.zero? || overdue?
        (settled.zero? && at_leisure.zero?) ? @poll_seconds : 0
      rescue *PASSING => error
        pause(error)
      rescue => error
        isolate(error)
      end

      private

      # A timer whose firing fails must not be taken for the fault of an entry: the others fire, one by one, and it is
      # tried again a while later.
      # @return [Integer] timers dealt with
      def fire
        fired = @firing.take(limit: @wary ? 1 : @batch_size, now: @clock.now)
        @wary = nil if @wary && (@wary -= 1).zero?
        fired
      rescue *PASSING
        raise
      rescue => error
        @log.error("A timer failed", error)
        @root.timers.set_aside(now: @clock.now) if @wary
        @wary = @batch_size
        0
      end

      # However many entries come in, timers are looked at ten times a second.
      def overdue?
        tick = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        (@fired_at.nil? || tick - @fired_at > 0.1).tap { |late| @fired_at = tick if late }
      end

      # What can wait until no entry does: jobs, papers, and worked-out fields whose day has come. What goes wrong here
      # must not be taken for the fault of an entry.
      # @return [Integer] things done
      def at_leisure
        now = @clock.now
        @jobs.take(now:) + @root.tasks.note_late(now:) + @root.tasks.remind(now:) +
          @root.worked_out.settle(now:) + @root.own_mail.daily(now:) +
          @root.own_mail.at_once(now:) + @root.erasing.some(now:) + @root.printing.some(@papers, now:) + purge(now)
      rescue *PASSING
        raise
      rescue => error
        @log.error("What was done at leisure failed", error)
        0
      end

      # Once an hour is often enough.
      def purge(now)
        return 0 if @purged_at && now - @purged_at < 3_600

        @purged_at = now
        @root.notices.purge(now:) + @root.held_names.purge(now:) +
          @root.arrivals.purge(now:) + @root.letters.purge(now:) + @root.imports.purge(now:) +
          @root.merges.purge(now:) + @root.bulk_changes.purge(now:)
      end

      # After two transactions were in each other's way the next turns are smaller, since a small one gets through.
      def pause(error)
        @at_once = [@at_once / 4, 1].max if Store::Root::RETRY.any? { |type| error.is_a?(type) }
        @failures += 1
        rest = [@poll_seconds * (2**[@failures, 10].min), MAX_PAUSE].min
        @log.warn(
          "The database does not answer, or others were in the way; trying again", rest:, error: error.class.name
        )
        rest
      end

      # A turn of many that fails is taken again one by one, so that only the entry at fault waits.
      def isolate(error)
        @log.error("A turn failed", error)
        return set_aside(error) if @turn.at_hand&.size == 1

        @careful = @batch_size
        0
      end

      # The very entry that failed, and no other that has come to the front meanwhile.
      def set_aside(error)
        @root.transaction { @root.waiting.set_aside(@turn.at_hand[0], error, now: @clock.now) }
        @poll_seconds
      rescue *PASSING => passing
        pause(passing)
      end
    end
  end
end
