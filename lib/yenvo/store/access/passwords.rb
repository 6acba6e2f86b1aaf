# frozen_string_literal: true

require "argon2"
require "set"

module Yenvo
  module Store
    # What a password must be, and how it is kept (Argon2id, RFC 9106). Everywhere that one is chosen asks here.
    module Passwords
      # Two passes over 64 MiB in one lane (RFC 9106, section 3.1): a tenth of a second.
      COST = {t_cost: 2, m_cost: 16, p_cost: 1}.freeze
      LEAST = 10
      MOST = 200
      COMMON = File.join(Gem::Specification.find_by_name("rodauth").full_gem_path, "dict", "top-10_000-passwords.txt")
      private_constant :COMMON

      module_function

      # @param password [Object]
      # @param email [String, nil] with which its owner signs in
      # @return [String, nil] why it cannot be taken
      def problem(password, email: nil)
        text = password.is_a?(String) ? password : ""
        if text.size < LEAST
          "The password must have at least #{LEAST} characters; a few words that do not belong together " \
          "make a good one."
        elsif text.size > MOST
          "The password must have at most #{MOST} characters."
        elsif common.include?(text.downcase) || text == Settings::DEMO_PASSWORD || text.chars.uniq.size < 4
          "This password is one of those that are guessed first. Take another."
        elsif email && [email, email.split("@")[0]].any? { |name| name.casecmp?(text) }
          "The password must not be the e-mail address. Take another."
        end
      end

      # @param password [String]
      # @return [String] what is kept of it
      def kept(password) = Argon2::Password.new(**cost).create(password)

      # @return [Hash{Symbol => Integer}] t_cost: passes, m_cost: memory in KiB, as a power of two
      def cost = @cost ||= COST

      # @param cost [Hash{Symbol => Integer}] another one, for who makes very many
      def cost=(cost)
        @cost = cost
      end

      def common = @common ||= File.foreach(COMMON, chomp: true).to_set(&:downcase)
      private_class_method :common
    end
  end
end
