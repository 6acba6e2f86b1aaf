# frozen_string_literal: true

module Yenvo
  module Engine
    # Lets time pass quickly: the clock goes from one moment at which something comes due to the next, and all that
    # waits is settled at each, so that things happen in the order and at the moments at which they would have.
    class Passing
      # @param root [Store::Root]
      # @param clock [#now, #go] told of each moment; one of its own when not given
      # @param worker [#drain] settles what waits at the moment of the clock
      def initialize(root, clock: nil, worker: nil, log: SemanticLogger["Passing"])
        @root = root
        @clock = clock || Hand.new(Time.at(0).utc)
        @worker = worker || Worker.new(root, clock: @clock, log:)
      end

      # A clock that goes where it is told.
      Hand = Struct.new(:now) do
        def go(moment) = self.now = moment
      end

      # @param from, to [Time]
      # @yieldparam moment [Time] each moment after all that was due has happened
      # @return [Integer] moments gone through
      def pass(from:, to:, &told)
        settle(from)
        count = go_through(from:, to:, &told)
        settle(to)
        count
      end

      # The same where nothing waits at either end.
      def go_through(from:, to:)
        @clock.go(from)
        count = 0
        while (moment = @root.upkeep.next_moment(after: @clock.now, till: to))
          settle([moment, @clock.now].max)
          count += 1
          yield(@clock.now) if block_given?
        end
        count
      end

      # Settles all that waits at a moment.
      def settle(moment)
        @clock.go(moment)
        @worker.drain
      end
    end
  end
end
