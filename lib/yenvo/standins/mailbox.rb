# frozen_string_literal: true

require "mail"
require "midi-smtp-server"

module Yenvo
  module Standins
    # A small simulated mail server on this machine: takes every mail and keeps it. It can be told to refuse, to put off
    # and to be slow. It stands in for a real one in the demo and in specs; it knows nothing of Yenvo.
    class Mailbox < MidiSmtpServer::Smtpd
      KEPT = 1_000

      # @return [Symbol] what it does with the next mails: :take, :refuse (for good) or :put_off
      attr_accessor :manner

      # @return [Float] seconds that it takes for each
      attr_accessor :slow

      # @param port [Integer]
      def initialize(port:)
        @manner = :take
        @slow = 0
        @mails = []
        @kept = Mutex.new
        super(ports: port.to_s, hosts: "127.0.0.1", max_processings: 4, logger_severity: Logger::FATAL)
      end

      # @return [Array<Mail::Message>] what has come, the first first
      def mails = @kept.synchronize { @mails.dup }

      # Takes a mail, or not.
      def on_message_data_event(context)
        sleep(slow) if slow.positive?
        raise MidiSmtpServer::Smtpd550Exception if manner == :refuse
        raise MidiSmtpServer::Smtpd450Exception if manner == :put_off

        mail = ::Mail.read_from_string(context[:message][:data])
        @kept.synchronize { @mails = [*@mails, mail].last(KEPT) }
      end
    end
  end
end
