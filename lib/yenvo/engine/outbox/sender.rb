# frozen_string_literal: true

module Yenvo
  module Engine
    # Sends what waits in the outbox, beside the turns of the worker. Any number of senders share a database; one that
    # is killed leaves its claims to others, when they have run out.
    class Sender
      REST = 1.0
      # Rest after what nobody foresaw.
      PAUSE = 5.0
      # Seconds that one try takes at most.
      LONGEST = 60

      # @param root [Store::Root]
      # @param clock [Clock]
      # @param ways [Hash{String => #send_off}] by the name of the way; of a way that there is not what waits goes on
      #   waiting
      def initialize(root, clock:, ways:, log: SemanticLogger["Sender"])
        @root = root
        @clock = clock
        @ways = ways
        @log = log
        @bell = Bell.new
      end

      # Runs until +stop+.
      def run
        @bell.wait(turn) until @stopping
      end

      # Ends after the messages at hand. Safe in a signal handler.
      def stop
        @stopping = true
        @bell.ring
      end

      # @return [Numeric] seconds to rest before the next turn
      def turn
        send_some.zero? ? REST : 0
      rescue *Worker::PASSING => error
        @log.warn("The database does not answer; trying again", error: error.class.name)
        PAUSE
      rescue => error
        @log.error("A message could not be sent", error)
        PAUSE
      end

      # @return [Integer] messages tried
      def send_some
        from = sender or return 0
        began = @clock.now
        rows = @root.outbox.claim(ways: @ways.keys, now: began)
        left = rows.drop_while { |row| in_time?(began) && send_one(row, from) }
        @root.outbox.release(left, now: @clock.now)
        rows.size
      end

      private

      # @return [Array(String, String), nil] name and address of the house; nil while there is none
      def sender
        address = @root.setup_store.setting("mail_from", nil)
        address && [@root.setup_store.house_name, address]
      end

      # What is left when the claim runs out, or on the way to the end, is another's.
      def in_time?(began) = !@stopping && @clock.now - began < Store::Outbox::CLAIM - LONGEST

      # A message that breaks its way fails alone, as often as any other, and holds none up.
      def tried(row, from)
        @ways.fetch(row[:way]).send_off(row, from:)
      rescue => error
        @log.error("A message could not be sent", error)
        MailWay::Answer.new(state: "later", words: "It could not be written: #{error.message}", rest: false)
      end

      # @return [true]
      def send_one(row, from)
        settle(row, tried(row, from))
        true
      end

      def settle(row, answer)
        now = @clock.now
        return @root.outbox.sent(row, answer.words, now:) if answer.state == "sent"

        state = @root.outbox.failed(row, answer.words, now:, never: answer.state == "never", rest: answer.rest)
        tell_of(row, answer, now) if state == "failed"
      end

      # Whoever sent it hears that it will not arrive.
      def tell_of(row, answer, now)
        said = "“#{row[:subject]}” to #{row[:to]} could not be delivered: #{answer.words}"
        @root.notices.add([row[:by]], said, what: "undelivered", at: now) if row[:by]
      end
    end
  end
end
