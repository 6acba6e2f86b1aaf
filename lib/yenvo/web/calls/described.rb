# frozen_string_literal: true

module Yenvo
  module Web
    # Lets in only calls that the description knows, whose queries and bodies fit it, and of those that take much work
    # only so many a minute. What follows finds the parsed body in the env, and nothing to read that was not looked at.
    class Described
      # What nobody needs to have signed in for.
      OPEN = [
        "/session", "/sign-in", "/sign-out", "/opening", "/reset-password", "/forgotten", "/change-password",
        *SecondStep::ROUTES.map { |route| "/#{route}" }
      ].freeze
      ARRIVING = "/in/"
      VISITS = "/f/"
      # Bytes of the body of a call, of one that a program sends to a door, and of a file that is sent as it is.
      MAX_BODY = 4_000_000
      MAX_DOOR = 1_000_000
      # A form that a visitor sends, with files.
      MAX_VISIT = 52_000_000
      MAX_FILE = Store::Attachments::MAX_BYTES + 1_000
      FILES = %r{\A/api/(?:(?:tasks|records)/\d+/files|papers/document)\z}
      BYTES = "application/octet-stream"
      # A table that is brought in; it is never read whole.
      TABLES = "/api/imports"

      # @param path [String] within /api
      def self.open?(path) = OPEN.include?(path)

      # @param path [String] the whole one
      # @return [Integer] bytes that the body of a call there may have
      def self.most(path)
        return MAX_FILE if FILES.match?(path)
        return Store::Imports::MOST_BYTES + 1_000 if path == TABLES
        return MAX_VISIT if path.start_with?(VISITS)

        path.start_with?(ARRIVING) ? MAX_DOOR : MAX_BODY
      end

      # @param bytes [Integer]
      # @return [String]
      def self.too_much(bytes) =
        "The body must have at most #{(bytes < 1_000_000) ? "#{bytes / 1_000} kB" : "#{bytes / 1_000_000} MB"}. " \
        "Send less."

      # @param contract [Contract]
      # @param open [Boolean] whether it looks at the calls for which nobody needs to have signed in, or at all others
      def initialize(app, contract, open:)
        @app = app
        @contract = contract
        @open = open
      end

      def call(env)
        return @app.call(env) unless Described.open?(env["PATH_INFO"]) == @open

        request = Rack::Request.new(env)
        operation = @contract.find(request.request_method, request.path) or return Nowhere.call(env)

        refusal(env, request, operation) || @app.call(env)
      end

      private

      def refusal(env, request, operation)
        wrong = @contract.query_problems(operation, request.GET)
        return Json.refuse(400, wrong.join(" ")) if wrong.any?

        too_often(env, operation) || body_refusal(env, request, operation) || close(env)
      end

      # What was not described is not read: a form beside a call, say.
      def close(env)
        env["rack.input"] = StringIO.new
        env.delete("CONTENT_TYPE")
        nil
      end

      # Each such call is counted for the person who makes it, over all web processes.
      def too_often(env, operation)
        most = operation.plain["x-calls-a-minute"] or return
        counts = env["yenvo.house"].root.counts
        return if counts.add("#{operation.method} #{operation.path} #{env["yenvo.person"][:key]}", seconds: 60) <= most

        Json.refuse(
          429,
          "This takes much work, and you have asked for it #{most} times within a minute. Wait a minute, then ask " \
          "again."
        )
      end

      def body_refusal(env, request, operation)
        wanted = operation.plain["requestBody"] or return
        return take_bytes(env, request) if wanted.dig("content", BYTES)
        return Json.refuse(415, "Send the body as application/json.") unless request.media_type == Json::TYPE

        most = Described.most(request.path)
        text = request.body.read(most + 1).to_s
        return Json.refuse(413, Described.too_much(most)) if text.bytesize > most

        env["yenvo.body"] = Body.read(text)
        wrong = @contract.request_problems(operation, env["yenvo.body"])
        Json.refuse(400, "The call does not fit its description. #{wrong.join("; ")}.") if wrong.any?
      rescue Body::Unfit => error
        Json.refuse(400, error.message)
      end

      def take_bytes(env, request)
        return Json.refuse(415, "Send the file as #{BYTES}.") unless request.media_type == BYTES

        env["yenvo.stream"] = request.body
        env["yenvo.bytes"] = request.body.read.to_s.b unless request.path == TABLES
        nil
      end
    end
  end
end
