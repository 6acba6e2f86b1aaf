# frozen_string_literal: true

require "openssl"

module Yenvo
  module Store
    # The address to which one mail of the house is answered: the house's own with the number of the mail behind a plus
    # (RFC 5233), signed, so that nobody can name the mail of somebody else.
    class ReplyAddress
      TOKEN = /\A([^@+]+)\+m([0-9a-z]{1,13})-([0-9a-f]{20})@(.+)\z/

      # @param address [String]
      # @return [String] without what stands behind a plus
      def self.plain(address) = address.sub(/\+[^@]*@/, "@")

      # @param secret [String]
      def initialize(secret)
        @secret = secret
      end

      # @param from [String] address of the house
      # @param id [Integer] of the delivery
      # @return [String]
      def of(from, id)
        from.sub("@", "+#{token(id)}@")
      end

      # @param addresses [Array<String>]
      # @return [Integer, nil] id of the delivery that one of them names
      def read(addresses)
        addresses.each do |address|
          _, id, sign = TOKEN.match(address.downcase)&.captures
          number = id&.to_i(36)
          return number if number && OpenSSL.fixed_length_secure_compare(sign, sign(number))
        end
        nil
      end

      private

      def token(id) = "m#{id.to_s(36)}-#{sign(id)}"

      def sign(id) = OpenSSL::HMAC.hexdigest("SHA256", @secret, "answer to #{id}")[0, 20]
    end
  end
end
