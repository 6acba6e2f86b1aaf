# frozen_string_literal: true

require "json"

module Yenvo
  module Standins
    # All stand-ins of the demo at one address: a mailbox, a board, the program of an office, and a feed. What came to
    # each can be seen, and each can be told how to behave.
    #
    #   POST /board/ROOM   writes on the board
    #   POST /office       a web call; answered with the number under which the office keeps it
    #   POST /feed         {"all": true} has the feed send all that is left, else the next
    #   POST /mail         {"id": "…", "how": "answer", "text": "…"} answers a mail (or "away", "back"); with from, to
    #                      and subject in place of id it is a new one
    #   GET  /             all that came, as JSON
    #   POST /manner       {"of": "mailbox", "manner": "slow"}
    #   DELETE /           forgets all that came
    class Street
      # With which the office of the demo knows its calls; everything here is invented.
      SECRET = "whsec_#{["the office of the yard, invented"].pack("m0")}".freeze
      NAMES = %w[mailbox board office].freeze
      SHOWN = 50

      # @param clock [#now]
      # @param mail_port [Integer]
      # @param house [String, nil] where the house answers, to which the feed sends
      # @param handing [Handing, nil] what the mail server does with mail for the house
      def initialize(clock:, mail_port:, house: nil, handing: nil)
        @feed = Feed.new(to: house, clock:)
        @correspondent = Correspondent.new(port: mail_port, clock:)
        @mailbox = Mailbox.new(port: mail_port, handing:)
        @board = WebReceiver.new(clock:)
        numbered = ->(_event, before) { {"order" => {"number" => format("OF-%04d", before + 1)}} }
        @office = WebReceiver.new(clock:, secrets: [SECRET], answers: numbered)
      end

      # Begins to take mail.
      def start = @mailbox.start
      def stop = @mailbox.stop

      # Rack.
      def call(env)
        path, way = env["PATH_INFO"], env["REQUEST_METHOD"]
        return @board.call(env) if path.start_with?("/board/") && way == "POST"
        return @office.call(env) if path == "/office" && way == "POST"
        return told(env) if path == "/manner" && way == "POST"
        return written(env) if path == "/mail" && way == "POST"
        return played(env) if path == "/feed" && way == "POST"
        return answer(404, error: "There is nothing here.") unless path == "/"

        [@mailbox, @board, @office, @feed].each(&:clear) if way == "DELETE"
        answer(200, all)
      end

      private

      def told(env)
        given = JSON.parse(body_of(env))
        one = named.fetch(given["of"])
        one.manner = given["manner"]
        answer(200, all)
      rescue JSON::ParserError, KeyError, ArgumentError, TypeError
        answer(422, error: "Say of which (#{NAMES.join(", ")}) and which manner (#{Manners::ALL.join(", ")}).")
      end

      def played(env)
        @feed.play(all: body_of(env).include?("true"))
        answer(200, all)
      end

      MOST_MAIL = 200_000
      private_constant :MOST_MAIL

      def written(env)
        given = JSON.parse(env["rack.input"].read(MOST_MAIL).to_s)
        given.key?("id") ? answer(200, said: replied(given)) : answer(200, said: @correspondent.write(**letter(given)))
      rescue JSON::ParserError, KeyError, ArgumentError, TypeError, NoMethodError
        answer(422, error: "Say which mail is answered and how, or from whom, to whom and what.")
      end

      def replied(given)
        mail = @mailbox.mails.find { |one| one.message_id == given["id"] } || raise(KeyError)
        @correspondent.answer(mail, given["how"], given["text"].to_s)
      end

      def letter(given) = %w[from to subject text].to_h { |name| [name.to_sym, given.fetch(name).to_s] }

      def body_of(env) = env["rack.input"].read(1_000).to_s
      def named = NAMES.zip([@mailbox, @board, @office]).to_h

      def all
        {
          manners: named.transform_values(&:manner),
          mailbox: @mailbox.mails.last(SHOWN).reverse.map { |mail| mail(mail) },
          board: @board.calls.first(SHOWN).map { |call| {**call.slice(:path, :at), text: text_of(call)} },
          office: @office.calls.first(SHOWN), feed: {sent: @feed.sent, left: @feed.left}
        }
      end

      def mail(mail)
        {
          id: mail.message_id, **%i[from to cc].to_h { |line| [line, mail[line].to_s] },
          subject: mail.subject.to_s, text: (mail.text_part || mail).decoded.to_s.scrub[0, 20_000],
          files: mail.attachments.map(&:filename)
        }
      end

      def text_of(call)
        JSON.parse(call[:body])["text"].to_s
      rescue JSON::ParserError, TypeError
        call[:body]
      end

      def answer(status, body) = [status, {"content-type" => "application/json"}, [JSON.generate(body)]]
    end
  end
end
