# frozen_string_literal: true

module Yenvo
  module Store
    # Persons, teams and queues.
    class People < Base
      ROLES = %w[administrator lead member].freeze
      # How accounts stand, as Rodauth numbers it.
      OPEN = 2
      CLOSED = 3
      # A session ends after so long without use, and after so long in all.
      IDLE_SECONDS = 12 * 3600
      LIFETIME_SECONDS = 7 * 86_400

      # @return [Hash, nil]
      def find(key) = db[:people].where(key:).first
      def all = db[:people].order(:name).all
      def teams = db[:teams].where(retired_at: nil).order(:name).all
      def queues = db[:queues].where(retired_at: nil).order(:name).all

      # @return [Hash, nil] the person of a sign-in account, with the keys of all their teams
      def of_account(id) = with_teams(here(whose(id)))

      # @return [Hash, nil] somebody who is still here
      def here(key) = db[:people].where(key:, active: true).first

      # @param row [Hash, nil]
      # @return [Hash, nil] the same with the keys of all their teams
      def with_teams(row) = row&.merge(teams: schema.person(row[:key])&.teams || [])

      # @param sessions [Array<Hash>] account_id and session_id
      # @return [Array<Hash>] those that are signed in still, and of somebody who is still here
      def sessions_among(sessions)
        db[:account_active_session_keys].join(:accounts, id: :account_id).join(:people, key: Sequel[:accounts][:person])
          .where(
            %i[account_id session_id] => sessions.map { |one| one.values_at(:account_id, :session_id) }, :active => true
          )
          .where(Sequel[:last_use] > Sequel.lit("NOW() - INTERVAL ? SECOND", IDLE_SECONDS))
          .where(Sequel[:created_at] > Sequel.lit("NOW() - INTERVAL ? SECOND", LIFETIME_SECONDS))
          .exclude({role: second_step_roles, account_id: without_second_step})
          .select(:account_id, :session_id).all
      end

      # @return [Sequel::Dataset] accounts that have none
      def without_second_step = db[:accounts].exclude(id: db[:account_otp_keys].select(:id)).select(:id)
      private :without_second_step

      # Closes the account of somebody who leaves, and ends all sessions; or opens it again.
      # @param key [String]
      # @param active [Boolean]
      def let_in(key, active)
        accounts = db[:accounts].where(person: key)
        accounts.update(status_id: active ? OPEN : CLOSED)
        db[:account_active_session_keys].where(account_id: accounts.select(:id)).delete unless active
      end

      # Roles whose members must have a second step at sign-in.
      # @return [Array<String>]
      def second_step_roles
        stamp = root.setup[3]
        known = @second_step_roles
        return known[1] if known && known[0] == stamp

        root.setup_store.setting("second_step", []).tap { |roles| @second_step_roles = [stamp, roles] }
      end

      # @param account [Integer]
      # @return [Boolean] whether the role of its person needs a second step
      def needs_second_step?(account)
        roles = second_step_roles
        roles.any? && !db[:people].where(key: whose(account), role: roles).empty?
      end

      # @return [Sequel::Dataset] key of the person of an account
      def whose(account) = db[:accounts].where(id: account).select(:person)
      private :whose

      # @return [Array<String>] keys of those who have a second step
      def with_second_step = db[:accounts].where(id: db[:account_otp_keys].select(:id)).select_map(:person)

      # @return [Array<String>] keys of those who have been invited and have not chosen a password yet
      def invited = db[:accounts].where(password_hash: nil).select_map(:person)

      # @param person [Hash] row with teams
      # @return [Array<String>] keys of the queues from which a person takes
      def queues_of(person) = db[:queues].where(team: person[:teams], retired_at: nil).select_map(:key)
    end
  end
end
