# frozen_string_literal: true

module Demo
  # What leaves the yard while its story is lived: sent at the moment at which it is due, to nobody, with answers as
  # they come in a yard: most is taken, some address is wrong, and lately one server is slow to answer.
  class Outgoing
    # Of the addresses to which mail goes.
    WRONG_EVERY = 17
    SLOW_EVERY = 11
    LATELY = 2 * 86_400

    Clock = Struct.new(:now)

    # @param root [Yenvo::Store::Root]
    # @param ends [Time] the moment of loading
    def initialize(root, ends:)
      @root = root
      @clock = Clock.new(Time.at(0).utc)
      way = Way.new(@clock, ends)
      @sender = Yenvo::Engine::Sender.new(root, clock: @clock, ways: {"mail" => way, "board" => way, "call" => way})
    end

    # @param till [Time]
    # @return [Time, nil] when the next message is due
    def due_first(till) = @root.db[:deliveries].where(state: "waiting").where { due_at <= till }.min(:due_at)

    # @param at [Time]
    # @return [Integer] messages tried
    def deliver(at)
      @clock.now = at
      @sender.send_some
    end

    # Answers like all that is outside.
    Way = Struct.new(:clock, :ends) do
      def ready? = true

      def send_off(row)
        return taken(row) unless row[:way] == "mail"

        sign = row[:to].sum
        if (sign % WRONG_EVERY).zero?
          Yenvo::Engine::Answer.new(state: "never", words: "550 There is no mailbox #{row[:to][0, 80]}.", rest: false)
        elsif (sign % SLOW_EVERY).zero? && clock.now > ends - LATELY
          Yenvo::Engine::Answer.new(state: "later", words: "451 Busy. Try again later.", rest: false)
        else
          Yenvo::Engine::Answer.new(state: "sent", words: "250 Taken")
        end
      end

      private

      def taken(row)
        number = {"order" => {"number" => format("OF-%04d", row[:id])}}
        Yenvo::Engine::Answer.new(state: "sent", words: "#{row[:way]}.example: 200 OK", body: number)
      end
    end
    private_constant :Way
  end
end
