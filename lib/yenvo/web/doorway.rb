# frozen_string_literal: true

module Yenvo
  module Web
    # The first that a call meets: hands the house on, sets the headers that every answer has, and turns what nobody
    # foresaw into a sentence.
    class Doorway
      HEADERS = {
        "content-security-policy" => "default-src 'self'; img-src 'self' data:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
        "x-content-type-options" => "nosniff", "referrer-policy" => "same-origin", "x-frame-options" => "DENY"
      }.freeze
      AWAY = [Sequel::DatabaseConnectionError, Sequel::DatabaseDisconnectError, Sequel::PoolTimeout].freeze

      def initialize(app, house)
        @app = app
        @house = house
        @log = SemanticLogger["Web"]
      end

      def call(env)
        env["yenvo.house"] = @house
        began = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        status, headers, body = guarded(env)
        Metrics.count(env["REQUEST_METHOD"], status, Process.clock_gettime(Process::CLOCK_MONOTONIC) - began)
        [status, HEADERS.merge(headers), body]
      end

      private

      # Puma has read the whole body by now, also one sent in chunks, and says its length.
      def guarded(env)
        most = Guard.most(env["PATH_INFO"])
        return Json.refuse(413, "The body must have at most #{most / 1_000_000} MB. Send less.") if env["CONTENT_LENGTH"].to_i > most

        @app.call(env)
      rescue *AWAY => error
        @log.warn("The database does not answer", error: error.class.name)
        Json.refuse(503, "Yenvo cannot reach its database just now. Nothing was saved; try again in a moment.")
      rescue => error
        @log.error("A call failed", {path: env["PATH_INFO"]}, error)
        Json.refuse(500, "Something went wrong inside Yenvo, and nothing was saved. Try again; if it happens again, tell whoever runs Yenvo what you did and when.")
      end
    end
  end
end
