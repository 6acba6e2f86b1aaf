# frozen_string_literal: true

require "ipaddr"
require "socket"

module Yenvo
  module Engine
    # Finds where an address outside is, once, so that what was looked at is what is called; and refuses what lies
    # inside the house's network, but for what YENVO_INSIDE allows.
    class Outside
      # That an address must not be called, as a sentence.
      class Refused < StandardError; end

      # What is not the public internet: IANA's registries of special-purpose addresses (RFC 6890) and multicast.
      SPECIAL = %w[
        0.0.0.0/8 10.0.0.0/8 100.64.0.0/10 127.0.0.0/8 169.254.0.0/16 172.16.0.0/12 192.0.0.0/24 192.0.2.0/24
        192.88.99.0/24 192.168.0.0/16 198.18.0.0/15 198.51.100.0/24 203.0.113.0/24 224.0.0.0/4 240.0.0.0/4
        ::/127 64:ff9b::/96 64:ff9b:1::/48 100::/64 2001::/23 2001:db8::/32 2002::/16 fc00::/7 fe80::/10 fec0::/10
        ff00::/8
      ].map { |range| IPAddr.new(range) }.freeze

      # @param allowed [Array<IPAddr>]
      # @param resolve [Proc] from a host's name to its addresses, as texts
      def initialize(allowed = [], resolve: nil)
        @allowed = allowed
        @resolve = resolve || ->(host) { Addrinfo.getaddrinfo(host, nil, nil, :STREAM).map(&:ip_address) }
      end

      # @param uri [URI::HTTP]
      # @return [String] the one IP address to call
      # @raise [Refused]
      # @raise [SocketError] when the name leads nowhere
      def find(uri)
        found = @resolve.call(uri.hostname).map { |text| native(text) }.uniq
        # All of them, so that no name leads inside now and then.
        inside = found.reject { |ip| allowed?(ip) }.find { |ip| special?(ip) }
        raise Refused, "#{uri.host} lies inside the network (#{inside}), where calls do not go." if inside
        raise SocketError, "#{uri.host} leads nowhere" if found.empty?
        return found[0].to_s if uri.scheme == "https" || allowed?(found[0])

        raise Refused, "#{uri.host} would be called in the clear. Write its address with https."
      end

      private

      # IPv4 in the dress of IPv6 is IPv4.
      def native(text) = IPAddr.new(text.split("%").first).native
      def allowed?(ip) = @allowed.any? { |range| within?(range, ip) }
      def special?(ip) = SPECIAL.any? { |range| within?(range, ip) }
      def within?(range, ip) = range.family == ip.family && range.include?(ip)
    end
  end
end
