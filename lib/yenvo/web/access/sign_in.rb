# frozen_string_literal: true

require "argon2"
require "roda"
require "rodauth"

module Yenvo
  module Web
    # Sign-in and sign-out with Rodauth: argon2, pauses after failed tries, sessions that end.
    module SignIn
      WRONG = "The e-mail address or the password is not right. Check both and try again."
      # What a try is held against where nobody has the address, so that it takes as long as any other.
      NOBODY = Store::Passwords.kept(SecureRandom.hex)

      # What Rodauth is told beyond its settings.
      module Manner
        # The body was read and held to the description before it came here; signing out needs none.
        def raw_param(key) = (call["yenvo.body"] || {})[key]
        def json_request? = true
        def password_hash_cost = Store::Passwords.cost

        def before_login_route
          seconds = house.root.failed_sign_ins.pause(*tried, now: house.clock.now) or return super
          response.status = 429
          set_error_flash "Too many failed tries to sign in from here. Wait #{SignIn.words(seconds)}, then try again."
          return_json_response
        end

        # The password of the demo, which everybody knows, is nobody's outside it.
        def password_match?(password) = super && (password != Settings::DEMO_PASSWORD || house.demo?)

        def after_no_matching_login
          Argon2::Password.verify_password(param("password"), NOBODY)
          note_failure(nil)
          super
        end

        def after_login_failure
          note_failure(account[:person])
          super
        end

        def after_login
          house.root.failed_sign_ins.forget(*tried)
          audit "signed in#{" with the password; the second step is to come" if missing_step}"
          super
        end

        def before_logout
          audit("signed out") if logged_in?
          super
        end

        # Looking at pages does not write: that somebody is still here is noted behind the call.
        def currently_active_session?
          kept = session[session_id_session_key] or return false
          found = active_sessions_ds.where(session_id: compute_hmacs(kept)).exclude(inactive_session_cond)
          return !found.empty?.tap { |gone| house.presence.note(session_at_hand) unless gone } if request.get?

          found.update(active_sessions_update_hash) == 1
        end

        # @return [Hash, nil] account and kept key of the session at hand
        def session_at_hand =
          logged_in? && {account_id: session_value, session_id: compute_hmac(session[session_id_session_key])}

        # A password is chosen by the rules of the house.
        def password_meets_requirements?(password)
          @wrong_password = Store::Passwords.problem(password, email: account[:email])
          @wrong_password.nil?
        end

        # The new one may not be the old one.
        def new_password_matches_current_password?(password)
          super && @wrong_password = "That is the password you have already."
        end

        # Whoever else knew the old password is out.
        def after_change_password
          remove_all_active_sessions_except_current
          audit "changed their password"
          super
        end

        # Whoever knew the old password is out.
        def after_reset_password
          remove_all_active_sessions
          audit "chose a password by a link"
          super
        end

        # Makes a link for the account at hand; an older one is worth nothing from then on.
        # @param seconds [Integer] for which it is good
        # @return [String] what stands behind the # of its address
        def new_link(seconds)
          key = generate_reset_password_key_value
          transaction do
            remove_reset_password_key
            db[reset_password_table].insert(
              id: account_id, key:, deadline: Sequel.lit("NOW() + INTERVAL ? SECOND", seconds)
            )
          end
          token_param_value(key)
        end

        private

        attr_reader :wrong_password

        def active_sessions_insert_hash = super.merge(device: call["HTTP_USER_AGENT"]&.scrub&.slice(0, 300))
        def call = scope.env
        def house = call["yenvo.house"]
        def now = house.clock.now
        def address = call["yenvo.address"]
        def tried = [param("email"), address]

        def note_failure(person)
          house.root.failed_sign_ins.note(*tried, now:, person:)
          failed = "failed to sign in, with a wrong password"
          person ? audit(failed, person) : audit("tried to sign in with an address that nobody has", nil)
        end

        # Notes what has to do with signing in.
        def audit(words, who = account_person)
          house.root.audit.note("sign_in", words, who:, at: now, address:)
        end

        def account_person = db[:accounts].where(id: session_value || account_id).get(:person)
      end

      GONE = "This link has been used, is too old, or a newer one was made. Ask an administrator for another."

      module_function

      # A link with which somebody chooses a password.
      # @param auth [Class] see +for+
      # @param email [String] of their account
      # @param seconds [Integer] for which it is good
      # @return [String] path
      def link(auth, email, seconds) =
        "/welcome##{auth.rodauth.internal_request_eval { account_from_login(email) && new_link(seconds) }}"

      # @param root [Store::Root]
      # @return [Class] Rack middleware; answers POST /api/sign-in and POST /api/sign-out, and puts the account and its
      #   session into the env
      def for(root)
        Class.new(Roda) do
          plugin :middleware
          plugin :json_parser, content_type_regexp: %r{\Aapplication/json\b}i
          plugin :rodauth, json: :only do
            enable :json, :login, :logout, :argon2, :active_sessions, :reset_password, :change_password,
              :otp, :recovery_codes, :internal_request
            db root.db
            hmac_secret { root.secret }
            prefix "/api"
            require_bcrypt? false
            # Signing in anew while signed in ends the older session.
            already_logged_in { nil }
            # Only links in mails need it, and none are sent.
            domain "localhost"
            login_route "sign-in"
            logout_route "sign-out"
            login_param "email"
            account_password_hash_column :password_hash
            # Whoever has left has a closed account.
            skip_status_checks? false
            require_login_confirmation? false
            session_inactivity_deadline Store::People::IDLE_SECONDS
            session_lifetime_deadline Store::People::LIFETIME_SECONDS
            login_error_flash WRONG
            no_matching_login_error_status 401
            login_error_status 401
            active_sessions_error_flash "Your session has ended. Sign in again."
            logout_notice_flash "Signed out."
            # Nobody asks for a link but by an administrator, so its own route for that stays shut.
            reset_password_request_route nil
            require_mail? false
            reset_password_autologin? true
            require_password_confirmation? false
            no_matching_reset_password_key_error_flash GONE
            reset_password_error_flash { wrong_password || GONE }
            reset_password_notice_flash "Your password is set."
            change_password_notice_flash "Your password is changed."
            change_password_error_flash { wrong_password || "The password that you have now is not right." }
            require_login_error_flash "Sign in first; your session may have ended."
            auth_class_eval { include Manner }
            SecondStep.configure(self)
          end

          route do |r|
            rodauth.check_active_session if rodauth.logged_in?
            r.rodauth
            env["yenvo.missing_step"] = rodauth.missing_step
            env["yenvo.account"] = (rodauth.session_value if rodauth.logged_in? && env["yenvo.missing_step"].nil?)
            env["yenvo.session"] = rodauth.session_at_hand
            nil
          end
        end
      end

      # @return [String]
      def words(seconds)
        return "#{seconds} seconds" if seconds < 90

        "#{(seconds / 60.0).ceil} minutes"
      end
    end
  end
end
