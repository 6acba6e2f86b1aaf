# frozen_string_literal: true

require "rack/attack"

module Yenvo
  module Web
    # Counts tries per address in the memory of this process, for rack-attack.
    class Counters
      MAX = 10_000

      # Begins to count, with the limits that hold.
      def self.install
        Rack::Attack.cache.store = new
        Rack::Attack.throttle("sign-ins", limit: 30, period: 60) { |request| request.ip if request.post? && request.path == "/api/sign-in" }
        Rack::Attack.throttle("doors", limit: 20, period: 60) { |request| request.ip if request.post? && request.path.start_with?("/api/door/") }
        Rack::Attack.throttled_responder = ->(request) { Json.refuse(429, request.path.start_with?("/api/door/") ? "Too much came in from here. Wait a minute, then send it again." : "Too many tries to sign in from here. Wait a minute, then try again.") }
      end

      def initialize
        @lock = Mutex.new
        @counts = {}
      end

      def increment(key, amount, expires_in: 60, **)
        @lock.synchronize do
          now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
          @counts.delete_if { |_, (_, ends)| ends < now } if @counts.size > MAX
          count, ends = @counts[key]
          count, ends = 0, now + expires_in if ends.nil? || ends < now
          @counts[key] = [count + amount, ends]
          count + amount
        end
      end

      def read(key) = @lock.synchronize { @counts[key]&.first }
      def write(key, value, expires_in: 60, **) = @lock.synchronize { @counts[key] = [value, Process.clock_gettime(Process::CLOCK_MONOTONIC) + expires_in] }
      def delete(key) = @lock.synchronize { @counts.delete(key) }
    end
  end
end
