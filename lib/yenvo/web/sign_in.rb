# frozen_string_literal: true

require "roda"
require "rodauth"

module Yenvo
  module Web
    # Sign-in and sign-out with Rodauth: argon2, lock-out after failed tries, sessions that end.
    module SignIn
      TRIES = 8
      LOCKED_MINUTES = 15
      IDLE_SECONDS = 12 * 3600
      LIFETIME_SECONDS = 7 * 86_400

      module_function

      # @param root [Store::Root]
      # @return [Class] Rack middleware; answers POST /api/sign-in and POST /api/sign-out, and puts Rodauth into the env
      def for(root)
        secret = nil
        Class.new(Roda) do
          plugin :middleware
          plugin :json_parser, content_type_regexp: %r{\Aapplication/json\b}i
          plugin :rodauth, json: :only do
            enable :json, :login, :logout, :argon2, :lockout, :active_sessions
            db root.db
            hmac_secret { secret ||= scope.env["yenvo.house"].settings.session_secret }
            prefix "/api"
            require_mail? false
            require_bcrypt? false
            # Signing in anew while signed in ends the older session.
            already_logged_in { nil }
            # Only links in mails need it, and none are sent.
            domain "localhost"
            login_route "sign-in"
            logout_route "sign-out"
            unlock_account_route nil
            unlock_account_request_route nil
            login_param "email"
            account_password_hash_column :password_hash
            require_login_confirmation? false
            max_invalid_logins TRIES
            account_lockouts_deadline_interval(minutes: LOCKED_MINUTES)
            session_inactivity_deadline IDLE_SECONDS
            session_lifetime_deadline LIFETIME_SECONDS
            login_error_flash "The e-mail address or the password is not right. Check both and try again."
            login_lockout_error_flash "Too many failed tries: this sign-in is locked for #{LOCKED_MINUTES} minutes. Wait, then try again."
            no_matching_login_error_status 401
            login_error_status 401
            active_sessions_error_flash "Your session has ended. Sign in again."
            logout_notice_flash "Signed out."
            auth_class_eval do
              # Which of the two was wrong is nobody's business.
              def set_field_error(_field, _message) = nil
            end
          end

          route do |r|
            rodauth.check_active_session if rodauth.logged_in?
            r.rodauth
            env["yenvo.account"] = rodauth.logged_in? ? rodauth.session_value : nil
            nil
          end
        end
      end
    end
  end
end
