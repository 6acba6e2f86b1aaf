# frozen_string_literal: true

module Yenvo
  module Store
    # The sessions of one account, for whom it belongs to.
    class Sessions < Base
      keeps :account_active_session_keys

      # @param account [Integer]
      # @return [Array<Hash>] session_id, device, created_at, last_use; the latest use first
      def of(account) = living(account).reverse(:last_use).limit(100).all

      # @param account [Integer]
      # @param id [String, nil] of the one that ends; nil for all but the one at hand
      # @param here [String] the one at hand
      # @return [Integer] how many ended
      def finish(account, id, here:)
        found = table.where(account_id: account)
        (id ? found.where(session_id: id) : found.exclude(session_id: here)).delete
      end

      private

      def living(account) =
        table.where(account_id: account)
          .where(Sequel[:last_use] > Sequel.lit("NOW() - INTERVAL ? SECOND", People::IDLE_SECONDS))
          .where(Sequel[:created_at] > Sequel.lit("NOW() - INTERVAL ? SECOND", People::LIFETIME_SECONDS))
    end
  end
end
