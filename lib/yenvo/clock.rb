# frozen_string_literal: true

require "time"

module Yenvo
  # The edge at which the time of day is read. Everything else is handed a moment.
  class Clock
    # @param start [String, nil] ISO 8601; the clock then begins at this moment and runs on from there, which tests and
    #   demonstrations of a certain day need
    def initialize(start: nil)
      @shift = start ? Time.iso8601(start) - Time.now : 0
    end

    # @return [Time] UTC
    def now = (Time.now + @shift).utc
  end
end
