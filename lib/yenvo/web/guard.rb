# frozen_string_literal: true

module Yenvo
  module Web
    # Lets in who has signed in, and only calls that the description knows and whose bodies fit it.
    class Guard
      MAX_BODY = 4_000_000
      # Files sent as they are.
      FILES = %r{\A/api/tasks/\d+/files\z}
      BYTES = "application/octet-stream"

      # @param path [String]
      # @return [Integer] bytes that the body of a call there may have
      def self.most(path) = FILES.match?(path) ? Store::Attachments::MAX_BYTES + 1_000 : MAX_BODY

      OPEN = ["/session"].freeze
      DOORS = "/door/"

      def initialize(app, contract)
        @app = app
        @contract = contract
      end

      def call(env)
        account = env["yenvo.account"]
        env["yenvo.person"] = account && env["yenvo.house"].root.people.of_account(account)
        return Json.refuse(401, "Sign in first; your session may have ended.") unless env["yenvo.person"] || OPEN.include?(env["PATH_INFO"]) || env["PATH_INFO"].start_with?(DOORS)

        refusal(env) || @app.call(env)
      end

      private

      def refusal(env)
        request = Rack::Request.new(env)
        operation = @contract.find(request.request_method, request.path)
        return Nowhere.call(env) unless operation

        wrong = @contract.query_problems(operation, request.GET)
        return Json.refuse(400, wrong.join(" ")) if wrong.any?

        body_refusal(env, request, operation) if operation.plain["requestBody"]
      end

      def take_bytes(env, request)
        return Json.refuse(415, "Send the file as #{BYTES}.") unless request.media_type == BYTES

        env["yenvo.bytes"] = request.body.read.to_s.b
        nil
      end

      def body_refusal(env, request, operation)
        return take_bytes(env, request) if operation.plain["requestBody"].dig("content", BYTES)
        return Json.refuse(415, "Send the body as application/json.") unless request.media_type == Json::TYPE

        text = request.body.read(MAX_BODY + 1).to_s
        return Json.refuse(413, "The body must have at most #{MAX_BODY / 1_000_000} MB. Send less.") if text.bytesize > MAX_BODY

        env["yenvo.body"] = JSON.parse(text, max_nesting: 60)
        wrong = @contract.request_problems(operation, env["yenvo.body"])
        Json.refuse(400, "The call does not fit its description. #{wrong.join("; ")}.") if wrong.any?
      rescue JSON::ParserError, EncodingError
        Json.refuse(400, "The body must be JSON in UTF-8.")
      end
    end
  end
end
