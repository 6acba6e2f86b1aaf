# frozen_string_literal: true

require "ipaddr"

module Yenvo
  module Web
    # From which address a call came. Only the other end of the connection counts, since every header is the caller's
    # own to set; where that end is a proxy which the settings name, the last address of X-Forwarded-For that is none.
    class Peer
      UNKNOWN = "unknown"
      # Whoever has an address of IPv6 has as many as there are in its first 64 bits (RFC 6177).
      PREFIX = 64

      # @param proxies [Array<IPAddr>]
      def initialize(proxies)
        @proxies = proxies
      end

      # @param env [Hash] of Rack
      # @return [String] an address; of IPv6 the part that belongs to one network
      def address(env)
        found = read(env["REMOTE_ADDR"])
        found = forwarded(env["HTTP_X_FORWARDED_FOR"].to_s) || found if found && proxy?(found)
        return UNKNOWN unless found

        (found.ipv6? && !found.loopback?) ? "#{found.mask(PREFIX)}/#{PREFIX}" : found.to_s
      end

      # @return [Boolean] whether the other end is this machine itself, with no proxy in between
      def here?(env) = read(env["REMOTE_ADDR"])&.loopback? && !env.key?("HTTP_X_FORWARDED_FOR")

      private

      def forwarded(header) =
        header[0, 2_000].split(",").reverse_each.lazy.filter_map { |text| read(text.strip) }.find { |one| !proxy?(one) }

      def proxy?(address) = @proxies.any? { |proxy| proxy.family == address.family && proxy.include?(address) }

      def read(text)
        address = IPAddr.new(text.to_s)
        address.ipv4_mapped? ? address.native : address
      rescue IPAddr::Error
        nil
      end
    end
  end
end
