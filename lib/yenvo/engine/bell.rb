# frozen_string_literal: true

module Yenvo
  module Engine
    # Cuts a rest short. Safe to ring from a signal handler.
    class Bell
      def initialize
        @reader, @writer = IO.pipe
      end

      # @param seconds [Numeric] 0 does not rest
      def wait(seconds)
        return if seconds.zero?

        @reader.read_nonblock(64, exception: false) if @reader.wait_readable(seconds)
      end

      def ring = @writer.write_nonblock(".", exception: false)
    end
  end
end
