# frozen_string_literal: true

module Yenvo
  module Web
    # The first that a call meets: hands the house on, sets the headers that every answer has, and turns what nobody
    # foresaw into a sentence.
    class Doorway
      HEADERS = {
        "content-security-policy" =>
          "default-src 'self'; img-src 'self' data:; object-src 'none'; base-uri 'none'; form-action 'self'; " \
          "frame-ancestors 'none'",
        "x-content-type-options" => "nosniff", "referrer-policy" => "same-origin", "x-frame-options" => "DENY"
      }.freeze
      # Browsers keep to HTTPS for a year (RFC 6797).
      STRICT = {"strict-transport-security" => "max-age=31536000"}.freeze
      AWAY = [Sequel::DatabaseConnectionError, Sequel::DatabaseDisconnectError, Sequel::PoolTimeout].freeze
      NOT_SAVED = "Yenvo cannot reach its database just now. Nothing was saved; try again in a moment."
      MAYBE_SAVED =
        "The database went away in the very moment of saving, so what you did may have been saved or not. Look " \
        "before you do it again."
      BUSY = "Others are changing the same just now, and yours had no turn. Nothing was saved; try again in a moment."
      FULL = "There is no room left to save anything. Nothing was saved; tell whoever runs Yenvo."
      DISK_FULL = /No space left on device|[Dd]isk (?:is )?full|The table .* is full/
      BROKEN =
        "Something went wrong inside Yenvo, and nothing was saved. Try again; if it happens again, tell whoever " \
        "runs Yenvo what you did and when."

      # @param house [House]
      def initialize(app, house)
        @app = app
        @house = house
        @headers = house.settings.https ? HEADERS.merge(STRICT) : HEADERS
        @watch = Watch.new
        @log = SemanticLogger["Web"]
      end

      def call(env)
        env["yenvo.house"] = @house
        env["yenvo.address"] = @house.peer.address(env)
        began = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        status, headers, body = guarded(env)
        Metrics.count(env["REQUEST_METHOD"], status, Process.clock_gettime(Process::CLOCK_MONOTONIC) - began)
        @watch.note(env, status)
        [status, @headers.merge(headers).reject { |_, value| value == "" }, body]
      end

      private

      def guarded(env)
        refusal(env) || seen(env)
      rescue Store::Uncertain => error
        @log.warn("The database went away while committing", error: error.cause.class.name)
        Json.refuse(503, MAYBE_SAVED, code: "maybe_saved")
      rescue *AWAY => error
        @log.warn("The database does not answer", error: error.class.name)
        Json.refuse(503, NOT_SAVED)
      rescue *Store::Root::RETRY => error
        @log.warn("A call found no turn", error: error.class.name)
        Json.refuse(503, BUSY)
      rescue Errno::ENOSPC => error
        @log.error("A disk is full", error)
        Json.refuse(507, FULL)
      rescue => error
        if error.message.match?(DISK_FULL)
          @log.error("The disk of the database is full", error)
          return Json.refuse(507, FULL)
        end
        @log.error("A call failed", {path: env["PATH_INFO"].to_s.scrub("?")}, error)
        Json.refuse(500, BROKEN)
      end

      # What only looks sees set-up and rules as they are at one moment.
      def seen(env)
        return @app.call(env) unless env["REQUEST_METHOD"] == "GET"

        @house.root.at_one_moment do
          looks_things_up?(env) ? @house.root.on_one_connection { @app.call(env) } : @app.call(env)
        end
      end

      # Health, pages and figures are there without a database too.
      def looks_things_up?(env) = env["PATH_INFO"].start_with?("/api/")

      # What cannot be read is refused before anything else looks at it. Puma has refused what is too long by now
      # (BodyLimits); another server says at least its length.
      def refusal(env)
        return Json.refuse(400, "The address is not written as addresses are (RFC 3986).") unless sound_address?(env)

        most = Described.most(env["PATH_INFO"])
        Json.refuse(413, Described.too_much(most)) if env["CONTENT_LENGTH"].to_i > most
      end

      def sound_address?(env)
        path = Rack::Utils.unescape_path(env["PATH_INFO"]).force_encoding(Encoding::UTF_8)
        return false if !path.valid_encoding? || path.include?("\0")

        query = Rack::Request.new(env).GET.flatten
        query.all? { |text| !text.is_a?(String) || (text.valid_encoding? && !text.include?("\0")) }
      rescue Rack::QueryParser::ParameterTypeError,
        Rack::QueryParser::InvalidParameterError, RangeError, ArgumentError, EncodingError
        false
      end
    end
  end
end
