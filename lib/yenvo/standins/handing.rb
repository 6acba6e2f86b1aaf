# frozen_string_literal: true

require "open3"

module Yenvo
  module Standins
    # What a mail server does with mail for some addresses: it starts a program for each, hands it the message on
    # standard input, and goes by how that ends (sysexits.h).
    class Handing
      REFUSED = [64, 65, 67].freeze

      # @param addresses [Array<String>] also with anything behind a plus (RFC 5233)
      # @param command [Array<String>] the address comes behind it
      # @param env [Hash{String => String}]
      def initialize(addresses, command, env: {})
        @addresses = addresses.map(&:downcase)
        @command = command
        @env = env
      end

      # @return [Boolean] whether mail to it is handed on
      def for?(address) = @addresses.include?(address.downcase.sub(/\+[^@]*@/, "@"))

      # @param message [String]
      # @raise [MidiSmtpServer::Smtpd550Exception] when nobody takes it
      # @raise [MidiSmtpServer::Smtpd450Exception] when it is to be brought again
      def hand_on(address, message)
        said, done = Open3.capture2e(@env, *@command, address, stdin_data: message, binmode: true)
        return if done.success?

        warn(said) unless REFUSED.include?(done.exitstatus)
        raise REFUSED.include?(done.exitstatus) ? MidiSmtpServer::Smtpd550Exception : MidiSmtpServer::Smtpd450Exception
      end
    end
  end
end
