# frozen_string_literal: true

require "mail"

module Yenvo
  module Standins
    # Whoever has the mailbox: answers a mail, lets a program answer that they are away, has their server say that there
    # is no such mailbox (RFC 3464), or writes a mail of their own.
    class Correspondent
      HOW = %w[answer away back].freeze
      # Seconds: the mail server answers when the program to which it hands the mail has ended.
      WAIT = 60

      # @param port [Integer] of the mail server
      # @param clock [#now]
      def initialize(port:, clock:)
        @port = port
        @clock = clock
      end

      # @param mail [Mail::Message] that is answered
      # @param how [String] one of HOW
      # @param text [String]
      # @return [String] what the mail server said
      def answer(mail, how, text)
        raise ArgumentError, how unless HOW.include?(how)

        send_off((how == "back") ? notice(mail) : reply(mail, how, text))
      end

      # @return [String] what the mail server said
      def write(from:, to:, subject:, text:)
        send_off(made(from:, to:, subject:, body: text))
      end

      private

      def made(body: nil, **heads)
        ::Mail.new(charset: "UTF-8", **heads, body:).tap do |mail|
          mail.date = @clock.now
          mail.message_id = "<#{SecureRandom.uuid}@post.example>"
        end
      end

      def send_off(mail)
        mail.delivery_method(:smtp, address: "127.0.0.1", port: @port, return_response: true,
          enable_starttls_auto: false, read_timeout: WAIT)
        mail.deliver!.string.strip
      rescue Net::SMTPFatalError, Net::SMTPServerBusy, Net::ReadTimeout => error
        error.message.strip
      end

      def reply(mail, how, text)
        words = (how == "away") ? "I am away and read no mail." : "#{text}\n\n#{quoted(mail)}"
        subject = (how == "away") ? "Away: #{mail.subject}" : "Re: #{mail.subject}"
        answer = made(from: mail.to, to: mail.reply_to || mail.from, subject:, body: words)
        answer.in_reply_to = "<#{mail.message_id}>"
        answer.references = "<#{mail.message_id}>"
        answer.header["Auto-Submitted"] = "auto-replied" if how == "away"
        answer
      end

      def quoted(mail)
        said = (mail.text_part || mail).decoded.to_s.scrub.strip
        "On #{@clock.now.strftime("%-d %b %Y")}, #{mail.from[0]} wrote:\n#{said.gsub(/^/, "> ")}"
      end

      def notice(mail)
        whom = mail.to[0]
        notice = made(from: "MAILER-DAEMON@post.example", to: mail.reply_to || mail.from,
          subject: "Undelivered: #{mail.subject}")
        notice.content_type = "multipart/report; report-type=delivery-status"
        notice.add_part(part("text/plain", "There is no mailbox #{whom}."))
        notice.add_part(part("message/delivery-status", status(whom)))
        notice.add_part(part("text/rfc822-headers", "Message-ID: <#{mail.message_id}>\nTo: #{whom}\n"))
        notice.header["Auto-Submitted"] = "auto-replied"
        notice
      end

      def status(whom) =
        "Reporting-MTA: dns; post.example\n\nFinal-Recipient: rfc822; #{whom}\nAction: failed\nStatus: 5.1.1\n" \
          "Diagnostic-Code: smtp; 550 There is no such mailbox\n"

      def part(type, text) = ::Mail::Part.new(content_type: type, body: text)
    end
  end
end
