# frozen_string_literal: true

require "mail"
require "midi-smtp-server"

module Yenvo
  module Standins
    # A small simulated mail server on this machine: takes every mail and keeps it; of one that comes again under the
    # same Message-ID, as it may when a sender died before it heard that it was taken, it keeps one, as mail stores do.
    # What is for some addresses it hands on to a program. It stands in for a real one in the demo and in specs; it
    # knows nothing of Yenvo.
    class Mailbox < MidiSmtpServer::Smtpd
      include Manners

      KEPT = 1_000

      # @param slow [Float] seconds that it takes for each while it is slow
      attr_writer :slow

      # @param port [Integer]
      # @param handing [Handing, nil]
      def initialize(port:, handing: nil)
        @handing = handing
        @mails = []
        @taken = 0
        @kept = Mutex.new
        super(ports: port.to_s, hosts: "127.0.0.1", max_processings: 4, logger_severity: Logger::FATAL)
      end

      # @return [Array<Mail::Message>] what has come, the first first
      def mails = @kept.synchronize { @mails.dup }

      # @return [Integer] how many it has taken, those that came again too
      def taken = @kept.synchronize { @taken }

      # Forgets them.
      def clear = @kept.synchronize { @mails = [] }

      # Takes a mail, or not.
      def on_message_data_event(context)
        dawdle if manner == "slow"
        raise MidiSmtpServer::Smtpd550Exception if manner == "refuse"
        raise MidiSmtpServer::Smtpd450Exception if manner == "put_off"

        return if handed_on(context)

        mail = ::Mail.read_from_string(context[:message][:data])
        @kept.synchronize do
          @taken += 1
          known = mail.message_id && @mails.any? { |one| one.message_id == mail.message_id }
          @mails = [*@mails, mail].last(KEPT) unless known
        end
      end

      protected

      # While it is dead a connection is shut without a word, also in the middle of a mail.
      def serve_client(session, io)
        Thread.current[:line] = io
        (manner == "dead") ? io : super
      end

      def process_line(session, line, line_break)
        return super unless manner == "dead"

        Thread.current[:line].close
        +""
      end

      private

      # @return [Boolean] whether nobody is left for whom it is kept
      def handed_on(context)
        to = context[:envelope][:to].map { |one| one.delete("<>") }
        others = to.reject { |one| @handing&.for?(one) }
        (to - others).each { |one| @handing.hand_on(one, context[:message][:data]) }
        others.empty?
      end
    end
  end
end
