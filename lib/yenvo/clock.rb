# frozen_string_literal: true

require "time"

module Yenvo
  # The edge at which the time of day is read. Everything else is handed a moment.
  class Clock
    # @param start [String, nil] ISO 8601; the clock then begins at this moment and runs on from there, which tests and
    #   demonstrations of a certain day need
    # @param moved [#reading, nil] where the demo keeps by how much its clock was moved
    def initialize(start: nil, moved: nil)
      @shift = start ? Time.iso8601(start) - Time.now : 0
      @moved = moved
    end

    # @return [Time] UTC
    def now
      ahead, stands_at = @moved&.reading
      stands_at || (plain + (ahead || 0))
    end

    # @return [Time] UTC, as if nobody had moved it
    def plain = (Time.now + @shift).utc
  end
end
