# frozen_string_literal: true

module Yenvo
  module Web
    # Lets in programs with a token (RFC 6750): without a session, a cookie or a token against forgery, since no browser
    # sends such a header of itself. What a token lets do is held to the scope that the description names for a call.
    class Bearer
      HEADER = /\ABearer +(\S{1,200})\z/i
      WRONG = "This token is not known, has been ended or has expired. Ask whoever made it for another."
      # Wrong ones from one address within a minute.
      MOST_WRONG = 20

      # @param by_session [#call] what answers without such a header
      # @param by_token [#call] what answers who has come in by one
      # @param contract [Contract]
      def initialize(by_session, by_token, contract)
        @by_session = by_session
        @by_token = by_token
        @contract = contract
      end

      def call(env)
        given = env["HTTP_AUTHORIZATION"]
        return @by_session.call(env) if given.nil?

        root = env["yenvo.house"].root
        now = env["yenvo.house"].clock.now
        token = HEADER.match(given) { |found| root.tokens.find(found[1], now:) }
        person = token && root.people.with_teams(root.people.here(token[:person]))
        return wrong(root, env) unless person

        env["yenvo.person"] = person
        env["yenvo.token"] = token
        refusal(root, env, token) || @by_token.call(env)
      end

      private

      def wrong(root, env)
        tries = root.counts.add("wrong token #{env["yenvo.address"]}", seconds: 60)
        return Json.refuse(429, "Too many wrong tokens from here. Wait a minute.") if tries > MOST_WRONG

        Json.refuse(401, WRONG)
      end

      def refusal(root, env, token)
        if root.counts.add("token #{token[:id]}", seconds: 60) > token[:per_minute]
          return Json.refuse(
            429, "This token may call #{token[:per_minute]} times a minute. Wait a minute, then go on."
          )
        end

        operation = @contract.find(env["REQUEST_METHOD"], "#{env["SCRIPT_NAME"]}#{env["PATH_INFO"]}")
        scope = operation&.plain&.fetch("x-scope", nil)
        return if operation.nil? || token[:scopes].include?(scope)
        return Json.refuse(403, "This call is not for tokens; sign in for it.") if scope == "none"

        Json.refuse(403, "This token does not let you #{Store::Tokens::SCOPES.fetch(scope)} (#{scope}).")
      end
    end
  end
end
