# frozen_string_literal: true

require "concurrent"

module Yenvo
  module Engine
    # Sends what waits in the outbox, beside the turns of the worker, in some lanes at once. Any number of senders share
    # a database; one that is killed leaves its claims to others, when they have run out.
    class Sender
      REST = 1.0
      # Rest after what nobody foresaw.
      PAUSE = 5.0
      # Seconds that one try takes at most.
      LONGEST = 60
      LANES = 8
      # Lanes that one destination takes, so that one that hangs leaves some to others; and messages of one lane at a
      # time.
      OF_ONE = 4
      LOAD = 5

      # @param root [Store::Root]
      # @param clock [Clock]
      # @param ways [Hash{String => #send_off}] by the name of the way; of a way that there is not, or that is not
      #   ready, what waits goes on waiting
      def initialize(root, clock:, ways:, log: SemanticLogger["Sender"])
        @root = root
        @clock = clock
        @ways = ways
        @log = log
        @bell = Bell.new
        @read_back = ReadBack.new(root)
        @lanes = Concurrent::FixedThreadPool.new(LANES)
        # How many lanes each destination has at hand.
        @at_hand = Concurrent::Map.new { |map, name| map.compute_if_absent(name) { Concurrent::AtomicFixnum.new } }
      end

      # Runs until +stop+.
      def run
        @bell.wait(turn) until @stopping
      ensure
        @lanes.shutdown
        @lanes.wait_for_termination(LONGEST)
      end

      # Ends after the messages at hand. Safe in a signal handler.
      def stop
        @stopping = true
        @bell.ring
      end

      # @return [Numeric] seconds to rest before the next turn
      def turn
        give_out.zero? ? REST : 0
      rescue *Worker::PASSING => error
        @log.warn("The database does not answer; trying again", error: error.class.name)
        PAUSE
      rescue => error
        @log.error("A message could not be sent", error)
        PAUSE
      end

      # Claims what is due and sends it, here and now.
      # @return [Integer] messages tried
      def send_some
        rows = claim([])
        by_destination(rows).each { |some| send_all(some) }
        rows.size
      end

      private

      # @return [Integer] messages claimed
      def give_out
        free = LANES - lanes_taken
        return 0 unless free.positive?

        rows = claim(busy, limit: free * LOAD)
        loads = by_destination(rows).flat_map { |some| some.each_slice(LOAD).to_a }
        loads.each { |load| in_a_lane(load) }
        rows.size
      end

      def by_destination(rows) = rows.group_by { |row| row[:destination] }.values
      def lanes_taken = @at_hand.values.sum(&:value)
      def busy = @at_hand.each_pair.filter_map { |destination, lanes| destination if lanes.value >= OF_ONE }

      def claim(except, limit: LANES * LOAD)
        ways = @ways.select { |_, way| way.ready? }.keys
        ways.empty? ? [] : @root.outbox.claim(ways:, now: @clock.now, limit:, of_one: OF_ONE * LOAD, except:)
      end

      def in_a_lane(load)
        taken = @at_hand[load[0][:destination]]
        taken.increment
        @lanes.post do
          send_all(load)
        rescue => error
          # What was not settled is taken up again when the claim has run out.
          @log.error("A message could not be settled", error)
        ensure
          taken.decrement
          @bell.ring
        end
      end

      # Where a destination does not answer, the others that go there are given back: it may be about to rest.
      def send_all(rows)
        began = @clock.now
        left = rows.dup
        answers = true
        answers = send_one(left.shift) while answers && left.any? && in_time?(began)
      ensure
        # Also when one of them could not be settled.
        @root.outbox.release(left, now: @clock.now) if left.any?
      end

      # What is left when the claim runs out, or on the way to the end, is another's.
      def in_time?(began) = !@stopping && @clock.now - began < Store::Outbox::CLAIM - LONGEST

      # A message that breaks its way fails alone, as often as any other, and holds none up.
      def tried(row)
        @ways.fetch(row[:way]).send_off(row)
      rescue => error
        @log.error("A message could not be sent", error)
        Answer.new(state: "later", words: "It could not be written: #{error.message}", rest: false)
      end

      # @return [Boolean] whether its destination answers
      def send_one(row)
        answer = tried(row)
        settle(row, answer)
        answer.state != "later" || !answer.rest
      end

      def settle(row, answer)
        now = @clock.now
        return sent(row, answer, now) if answer.state == "sent"

        more = {never: answer.state == "never", rest: answer.rest, after: answer.after}
        state = @root.outbox.failed(row, answer.words, now:, **more)
        tell_of(row, answer, now) if state == "failed"
      end

      # What is read back and that it was sent are written together, so that neither is without the other.
      def sent(row, answer, now)
        @root.transaction do
          read = @read_back.write(row, answer.body, now:)
          @root.outbox.sent(row, [answer.words, read].compact.join("; "), now:)
        end
      end

      # Whoever sent it, or owns the rule that did, hears that it will not arrive.
      def tell_of(row, answer, now)
        said = "“#{row[:subject]}” to #{row[:to]} could not be delivered: #{answer.words}"
        about = row.slice(:rule_id, :record_id)
        owner = row[:rule_id] && @root.rules.owners([row[:rule_id]])[row[:rule_id]]
        whom = [row[:by], owner].compact.uniq
        return @root.notices.add_once(whom, said, what: "failed", at: now, **about) if row[:rule_id]

        @root.notices.add(whom, said, what: "undelivered", at: now)
      end
    end
  end
end
