# frozen_string_literal: true

require "cgi"
require "mail"

module Yenvo
  module Engine
    # Sends mail over SMTP (RFC 5321): a message of RFC 5322 with the words as text and as plain HTML, always under the
    # same Message-ID, marked as written by a program (RFC 3834). The mail gem folds and encodes headers, so that no
    # text can bring one along.
    class MailWay
      OPEN_SECONDS = 5
      READ_SECONDS = 20
      # Errors of the connection, none of the message.
      AWAY = [
        SystemCallError, IOError, SocketError, Timeout::Error, OpenSSL::SSL::SSLError, Net::SMTPServerBusy,
        Net::SMTPAuthenticationError, Net::SMTPUnsupportedCommand, Net::SMTPUnknownError
      ].freeze

      # @param root [Store::Root]
      # @param server [SmtpServer]
      # @param house [String, nil] where people reach it
      # @param clock [#now]
      # @param links [#call, nil] from an address to a link with which a new password is chosen, nil where nobody signs
      #   in with it
      def initialize(root, server, clock: Clock.new, house: nil, links: nil)
        @clock = clock
        @house = house
        @links = links
        @root = root
        @server = server
      end

      # @return [Boolean] whether the house has an address from which it sends
      def ready? = !from.nil?

      # @param row [Hash] of the outbox, with its content
      # @return [Answer]
      def send_off(row)
        text = text(row[:content]) or return Answer.new(state: "never", words: NOBODY, rest: false)
        said = message(row, text).deliver!
        Answer.new(state: "sent", words: said.string.strip)
      rescue Store::Refused, NotCarried => error
        Answer.new(state: "never", words: error.message, rest: false)
      rescue *AWAY => error
        Answer.new(state: "later", words: words(error))
      rescue Net::SMTPFatalError, Net::SMTPSyntaxError => error
        Answer.new(state: "never", words: words(error), rest: false)
      end

      private

      def words(error) = "#{@server}: #{error.message.to_s.scrub("?").strip}"[0, 400]

      # @return [String, nil]
      def from = @root.setup_store.setting("mail_from", nil)

      # That what is to be attached is gone, or more than a mail carries.
      class NotCarried < StandardError; end

      # Bytes of all files of a mail, as most servers take them.
      MOST_FILES = 20_000_000
      NOBODY = "Nobody signs in with that address any more, so no link was made."
      private_constant :NOBODY

      # @return [String, nil] what it says; nil where the link in it cannot be made
      def text(content)
        return content["text"] unless content["link"]

        link = link(content)
        link && "#{content["text"].sub(Store::HouseMail::LINK) { link }}#{footer(content)}"
      end

      # Where it is not said how people reach the house, there is no link to it, and none that stops mails.
      def link(content)
        return @links&.call(content["to"]) if content["link"] == "password"

        @house ? "#{@house}#{content["link"]}" : ""
      end

      def footer(content) = ("\n\nNo more mails like this: #{stop(content)}" if stop(content))

      def stop(content)
        return unless @house && content["stop"]

        "#{@house}/unsubscribe/#{@root.own_mail.token(*content["stop"])}"
      end

      # One press in the reader's program stops such mails (RFC 2369, RFC 8058).
      def stoppable(mail, content)
        return unless stop(content)

        mail.header["List-Unsubscribe"] = "<#{stop(content)}>"
        mail.header["List-Unsubscribe-Post"] = "List-Unsubscribe=One-Click"
      end

      def message(row, text)
        content = row[:content]
        mail = ::Mail.new(charset: "UTF-8")
        address(mail, content, reply_to(row))
        mail.subject = content["subject"]
        mail.message_id = "<#{row[:message_id]}>"
        mail.date = row[:made_at]
        mail.header["Auto-Submitted"] = "auto-generated"
        fill(mail, text, content["files"].to_a)
        thread(mail, row)
        stoppable(mail, content)
        mail.delivery_method(:smtp, connection)
        mail
      end

      # The words twice, and beside them what is attached (RFC 2046, 5.1).
      def fill(mail, text, files)
        both = [part("text/plain", text), part("text/html", html(text))]
        if files.empty?
          mail.text_part, mail.html_part = both
          return
        end

        words = ::Mail::Part.new(content_type: "multipart/alternative")
        both.each { |one| words.add_part(one) }
        mail.add_part(words)
        attach(mail, files)
      end

      # @raise [NotCarried]
      def attach(mail, files)
        opened = files.map { |file| taken_along(file) }
        if opened.sum { |row, _| row[:size] } > MOST_FILES
          raise NotCarried, "What is attached has more than #{MOST_FILES / 1_000_000} MB together, so it was not sent."
        end

        opened.each do |row, path|
          mail.attachments[row[:name]] = {mime_type: row[:type], content: File.binread(path)}
        end
      end

      def taken_along(file)
        @root.printing.open(file["id"], now: @clock.now)
      rescue Store::NotFound
        raise NotCarried, "The file “#{file["name"]}”, which goes along, was taken away, so it was not sent."
      end

      # Answers come back to the record, where the house takes them and nobody else is named.
      # @return [String, nil]
      def reply_to(row)
        named = row[:content]["reply_to"]
        return named if named || row[:record_id].nil? || !@root.mail_doors.answers?

        Store::ReplyAddress.new(@root.secret).of(from, row[:id])
      end

      def address(mail, content, answers)
        mail.from = ::Mail::Address.new(from).tap { |one| one.display_name = @root.setup_store.house_name }.format
        mail.to = content["to"]
        mail.cc = content["cc"] if content["cc"]
        mail.reply_to = answers if answers
      end

      # What one run after the other writes about a task, or a record, stands together (RFC 5322, 3.6.4).
      def thread(mail, row)
        name = row[:content]["thread"] || (row[:record_id] && "record-#{row[:record_id]}")
        mail.references = mail.in_reply_to = "<#{name}@yenvo>" if name
      end

      def part(type, body) =
        ::Mail::Part.new.tap do |one|
          one.content_type = "#{type}; charset=UTF-8"
          one.body = body
        end

      # The same words; addresses can be pressed.
      def html(text)
        lines = text.split("\n", -1).map do |line|
          CGI.escapeHTML(line).gsub(%r{https?://[^\s<]+}) { |link| %(<a href="#{link}">#{link}</a>) }
        end
        "<!doctype html><html><body><p>#{lines.join("<br>\n")}</p></body></html>"
      end

      def connection
        login = @server.user ? {user_name: @server.user, password: @server.password, authentication: :plain} : {}
        tls = @server.tls == "tls"
        {
          address: @server.host, port: @server.port, **login, tls:, ssl: tls, open_timeout: OPEN_SECONDS,
          read_timeout: READ_SECONDS, enable_starttls: (@server.tls == "starttls") ? :always : false,
          enable_starttls_auto: false, return_response: true
        }
      end
    end
  end
end
