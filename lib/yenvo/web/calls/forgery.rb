# frozen_string_literal: true

module Yenvo
  module Web
    # Calls that change something must carry the token of the session in X-CSRF-Token, so that no other site can make
    # somebody's browser send them.
    class Forgery < Rack::Protection::AuthenticityToken
      # @return [String] a token for the session, masked anew each time
      def self.token_for(session) = token(session)

      # A token in the query or in a form, which other sites can send, is not looked for.
      def accepts?(env)
        set_token(session(env))
        safe?(env) || valid_token?(env, env["HTTP_X_CSRF_TOKEN"])
      rescue ArgumentError, TypeError
        # What is no token at all.
        false
      end

      def deny(_env) =
        Json.refuse(
          403, "This page is older than your session. Load it again, then repeat what you did.", code: "token"
        )
      alias_method :react, :deny
    end
  end
end
