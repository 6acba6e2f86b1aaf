# frozen_string_literal: true

require "rack/attack"

module Yenvo
  module Web
    # Where rack-attack counts tries: in the database, so that limits hold over all web processes.
    class Counters
      TRIES = {
        "sign-ins" => [30, "/api/sign-in", "Too many tries to sign in from here. Wait a minute, then try again."],
        "openings" => [20, "/api/opening", "Too many tries from here. Wait a minute, then try again."],
        "passwords" => [20, "/api/change-password", "Too many tries from here. Wait a minute, then try again."],
        "links" => [20, "/api/reset-password", "Too many tries from here. Wait a minute, then try again."],
        "codes" => [20, "/api/otp-", "Too many tries from here. Wait a minute, then try again."],
        "recovery" => [20, "/api/recovery-", "Too many tries from here. Wait a minute, then try again."],
        "forgotten" => [5, "/api/forgotten", "Too many asked for a password from here. Wait a minute, then try again."]
      }.freeze
      PERIOD = 60

      # Begins to count, with the limits that hold.
      # @param root [Store::Root]
      def self.install(root)
        Rack::Attack.cache.store = new(root.counts)
        TRIES.each do |name, (limit, path, _)|
          Rack::Attack.throttle(name, limit:, period: PERIOD) do |request|
            request.env["yenvo.address"] if request.post? && request.path.start_with?(path)
          end
        end
        Rack::Attack.throttled_responder = ->(request) do
          Json.refuse(429, TRIES.fetch(request.env["rack.attack.matched"])[2])
        end
      end

      # @param counts [Store::Counts]
      def initialize(counts)
        @counts = counts
      end

      def increment(key, amount, expires_in: PERIOD, **) = @counts.add(key, amount:, seconds: expires_in)
      def read(key) = @counts.of(key)
    end
  end
end
