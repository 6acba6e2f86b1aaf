# frozen_string_literal: true

module Yenvo
  module Web
    # Lets in who has signed in, and only calls that the description knows and whose bodies fit it.
    class Guard
      MAX_BODY = 4_000_000
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

      def body_refusal(env, request, operation)
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
