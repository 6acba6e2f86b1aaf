# frozen_string_literal: true

module Yenvo
  module Web
    # Lets in who has signed in.
    class Guard
      def initialize(app)
        @app = app
      end

      def call(env)
        account = env["yenvo.account"]
        env["yenvo.person"] = account && env["yenvo.house"].root.people.of_account(account)
        unless env["yenvo.person"] || Described.open?(env["PATH_INFO"])
          return Json.refuse(401, "Sign in first; your session may have ended.")
        end

        @app.call(env)
      end
    end
  end
end
