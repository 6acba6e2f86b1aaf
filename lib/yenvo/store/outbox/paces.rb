# frozen_string_literal: true

module Yenvo
  module Store
    # How many messages go to a destination within a minute, for those of which the set-up says how many it takes.
    class Paces < Base
      keeps :paces

      # @param now [Time]
      # @return [Array<String>] destinations that take no more in this minute
      def full(now)
        limits = limits()
        return [] if limits.empty?

        used = table.where(destination: limits.keys, minute: minute(now)).select_hash(:destination, :used)
        limits.select { |destination, limit| used.fetch(destination, 0) >= limit }.keys
      end

      # In the caller's transaction.
      # @param rows [Array<Hash>] of deliveries
      # @return [Array<Hash>] those of them that can go now
      def take(rows, now)
        limits = limits()
        rows.group_by { |row| row[:destination] }.flat_map do |destination, some|
          limit = limits[destination]
          limit ? some.first(room(destination, limit, some.size, now)) : some
        end
      end

      private

      def limits
        limits = db[:addresses].exclude(per_minute: nil).select_hash(:key, :per_minute)
        limits = limits.transform_keys { |key| Core::Schema::Address.destination(key) }
        mail = root.setup_store.setting("mail_per_minute", nil)
        mail ? limits.merge(Core::Actions::SendMail::DESTINATION => mail) : limits
      end

      # @return [Integer] how many of those wanted there is room for; they count from now on
      def room(destination, limit, wanted, now)
        table.insert_ignore.insert(destination:, minute: minute(now), used: 0)
        row = table.where(destination:).for_update.first
        used = (row[:minute] == minute(now)) ? row[:used] : 0
        taken = (limit - used).clamp(0, wanted)
        table.where(destination:).update(minute: minute(now), used: used + taken)
        taken
      end

      def minute(now) = Time.at(now.to_i - (now.to_i % 60)).utc
    end
  end
end
