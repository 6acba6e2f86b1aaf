# frozen_string_literal: true

require "openssl"

module Yenvo
  module Store
    # Counts how often something happened within a while, over all processes. Each name falls into one of a fixed number
    # of slots, so that the table can never hold more rows than that, whatever names callers make up. Two names in one
    # slot share a count; which ones do, nobody can tell beforehand.
    class Counts < Base
      SLOTS = 65_536
      NOW = Sequel.lit("NOW(6)")
      private_constant :NOW

      # @param name [String] what is counted
      # @param seconds [Integer] after so many, counted from the first, it begins anew
      # @return [Integer] how often it was, with this time
      def add(name, seconds:, amount: 1)
        given = ->(column) { Sequel.function(:values, column) }
        over = Sequel[:ends_at] < NOW
        written =
          db[:counts].on_duplicate_key_update(
            amount: Sequel.case({over => given[:amount]}, Sequel[:amount] + given[:amount]),
            ends_at: Sequel.case({over => given[:ends_at]}, :ends_at)
          ).insert_sql(slot: slot(name), amount:, ends_at: Sequel.lit("NOW(6) + INTERVAL ? SECOND", seconds))
        db.fetch(Sequel.lit("#{written} RETURNING amount")).all[0][:amount]
      end

      # @return [Integer, nil]
      def of(name) = db[:counts].where(slot: slot(name)).where { ends_at >= NOW }.get(:amount)

      private

      def slot(name) = OpenSSL::HMAC.digest("SHA256", root.secret, name).unpack1("L") % SLOTS
    end
  end
end
