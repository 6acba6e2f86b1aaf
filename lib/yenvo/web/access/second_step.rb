# frozen_string_literal: true

module Yenvo
  module Web
    # The second step at sign-in (TOTP, RFC 6238), by Rodauth: what it is told beyond its settings. Whoever has one, or
    # needs one by their role, is half signed in until it is done, and reaches nothing else.
    module SecondStep
      ROUTES = %w[otp-setup otp-auth otp-disable recovery-auth recovery-codes].freeze
      WRONG_CODE = "The code is not right. Codes change every half minute, and each is good once."
      LOCKED = "Too many wrong codes. Use a recovery code, or ask an administrator to take your second step away."
      WRONG_PASSWORD = "The password that you have now is not right."
      # Letters and digits that are not taken for each other; twelve of them are 58 bits.
      ALPHABET = "23456789abcdefghjkmnpqrstuvwxyz".chars.freeze

      # Settings of Rodauth.
      # @param auth [Rodauth::Configuration]
      def self.configure(auth)
        auth.instance_eval do
          otp_issuer { house.root.setup_store.house_name }
          invalid_key_error_status 422
          invalid_password_error_status 422
          invalid_field_error_status 422
          two_factor_need_authentication_error_status 401
          two_factor_need_authentication_error_flash "Sign in first; your session may have ended."
          two_factor_not_setup_error_flash "You have no second step."
          two_factor_already_authenticated_error_flash "The second step is done already."
          two_factor_auth_notice_flash "Signed in."
          otp_already_setup_error_flash "You have a second step already. Take it away first, then set up another."
          otp_setup_notice_flash "The second step is set up."
          otp_disable_notice_flash "The second step is taken away."
          otp_auth_error_flash WRONG_CODE
          otp_lockout_error_flash LOCKED
          otp_setup_error_flash { wrong_of("password" => WRONG_PASSWORD, "otp" => WRONG_CODE) }
          otp_disable_error_flash WRONG_PASSWORD
          recovery_codes_limit 10
          recovery_codes_param "code"
          invalid_recovery_code_error_flash "That is none of your recovery codes, or it was used already."
          view_recovery_codes_error_flash WRONG_PASSWORD
          add_recovery_codes_error_flash WRONG_PASSWORD
          recovery_codes_added_notice_flash "There are ten recovery codes again."
          auto_add_recovery_codes? true
          auto_remove_recovery_codes? true
          auth_class_eval { include SecondStep }
        end
      end

      # Which field was wrong is told by the sentence.
      def set_field_error(field, _message)
        @wrong_field = field
        nil
      end

      # Asked without a secret, it only hands one out, to be set up with a code that was made of it.
      def before_otp_setup_route
        super
        return if param_or_nil(otp_setup_raw_param)

        clear_cached_otp
        json_response[:uri] = otp_provisioning_uri
        return_json_response
      end

      # Of two who set one up in the same moment the second is refused, as if it had come later.
      def otp_add_key
        super
      rescue Sequel::UniqueConstraintViolation
        response.status = 422
        set_error_flash otp_already_setup_error_flash
        return_json_response
      end

      def before_otp_disable
        refuse_required
        super
      end

      def after_otp_setup
        super
        audit "set up a second step"
        json_response[:codes] = recovery_codes
      end

      def after_otp_disable
        super
        audit "took their second step away"
      end

      def after_otp_authentication_failure
        super
        audit "failed at the second step"
      end

      def after_two_factor_authentication
        super
        audit "did the second step"
      end

      # @return [String, nil] what is still missing to be signed in: "code", or "set_up" where their role needs a second
      #   step that they do not have
      def missing_step
        return if !logged_in? || two_factor_authenticated?
        return "code" if uses_two_factor_authentication?
        return unless house.root.people.needs_second_step?(session_value)

        otp_exists? ? "code" : "set_up"
      end

      private

      def wrong_of(sentences) = sentences.fetch(@wrong_field, "Begin anew: what was shown is too old.")
      def new_recovery_code = Array.new(3) { Array.new(4) { ALPHABET.sample(random: SecureRandom) }.join }.join("-")

      def refuse_required
        return unless house.root.people.needs_second_step?(session_value)

        response.status = 422
        set_error_flash "Your role needs a second step, so it cannot be taken away. Ask an administrator."
        return_json_response
      end
    end
  end
end
