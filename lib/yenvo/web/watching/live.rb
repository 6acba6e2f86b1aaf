# frozen_string_literal: true

module Yenvo
  module Web
    # Tells open pages what changed, as server-sent events (HTML Living Standard, "Server-sent events"). One thread per
    # process looks at the end of the journal, however many pages listen; pages fetch anew what concerns them.
    class Live
      HEAD =
        "HTTP/1.1 200 OK\r\ncontent-type: text/event-stream\r\ncache-control: no-store\r\nx-accel-buffering: " \
        "no\r\nconnection: close\r\n\r\n"
      QUIET_SECONDS = 15
      # Numbers are given out before they are committed, so the last few are looked at again.
      OVERLAP = 500
      MOST = 2_000
      # So many of each are named; of more a page is told to look at everything again.
      NAMED = 200
      # Where news stands, with the column of its task. What waits for somebody to send it, and what rules write, has no
      # entry in the journal, and comes after the one that it answers.
      SOURCES = {journal: :task_id, proposals: nil, deliveries: nil}.freeze
      STREAMS = 500
      STREAMS_A_PERSON = 10
      # How often it is asked whether the sessions of streams are still good.
      SESSION_SECONDS = 1

      # One open page. socket: IO; person: key; session: Hash with account_id and session_id
      Stream = Struct.new(:socket, :person, :session)

      # @param root [Store::Root]
      # @param every [Float] seconds between two looks
      # @param clock [Clock, nil] whose being moved is told too
      # @param most [Integer] streams at the same time
      def initialize(root, every: 0.5, clock: nil, most: STREAMS)
        @root = root
        @clock = clock
        @every = every
        @most = most
        @streams = []
        @onlookers = Store::Onlookers.new(root)
        @lock = Mutex.new
        @log = SemanticLogger["Live"]
      end

      # Rack: takes the connection over, so that it holds no thread of the server.
      def call(env)
        hijack = env["rack.hijack"] or return Json.refuse(501, "This server cannot keep a connection open.")
        stream = Stream.new(nil, env.dig("yenvo.person", :key), env["yenvo.session"])
        # What happens from here on is told: first the place in the journal, then the greeting, on which a page loads.
        start = look(nil).first
        return full unless enter(stream)

        greet(stream, hijack, start)
        [200, {}, []]
      end

      private

      # Takes a place before the connection is taken over, so that no more are open than may be.
      def enter(stream)
        @lock.synchronize do
          if @streams.size >= @most || @streams.count { |one| one.person == stream.person } >= STREAMS_A_PERSON
            next false
          end

          @streams << stream
        end
      end

      def full =
        Json.refuse(503, "Too many pages of Yenvo are open just now. Close some; this one tries again.")
          .tap { |_, headers, _| headers["retry-after"] = "30" }

      def greet(stream, hijack, start)
        socket = hijack.call
        socket.write(HEAD, "retry: 1000\n: hello\n\n")
        @lock.synchronize do
          stream.socket = socket
          @thread = Thread.new { look_on(start) } unless @thread&.alive?
        end
      rescue SystemCallError, IOError
        # The page went before it was greeted.
        stream.socket = socket
        leave([stream])
      end

      def look_on(seen)
        told = asked = monotonic
        loop do
          sleep @every
          break if @lock.synchronize { @streams.empty? && (@thread = nil).nil? }

          leave(greeted.select { |stream| gone?(stream.socket) })
          asked = monotonic.tap { end_sessions } if monotonic - asked >= SESSION_SECONDS
          latest, news = look(seen)
          tell_clock
          if news.any? || monotonic - told >= QUIET_SECONDS
            tell(news)
            told = monotonic
          end
          # What could not be told is news the next time, too.
          seen = latest
        rescue Sequel::Error => error
          @log.warn("The journal cannot be read; pages wait", error: error.class.name)
        end
      end

      # A stream ends with its session: signed out, too old, or of somebody who has left.
      def end_sessions
        open = greeted
        good =
          open.map(&:session).compact.uniq.each_slice(500).flat_map { |some| @root.people.sessions_among(some) }.to_set
        leave(open.reject { |stream| stream.session.nil? || good.include?(stream.session) })
      end

      # @param seen [Hash{Symbol => Hash}, nil] by table, the numbers seen so far; nil at the beginning
      # @return [Array(Hash, Array<Array>)] those seen now, and what is new: number, record and task
      def look(seen)
        found = SOURCES.to_h { |table, task| [table, latest(table, task, seen&.fetch(table))] }
        news = seen ? found.flat_map { |table, rows| rows.reject { |id, _, _| seen[table][id] } } : []
        [found.transform_values { |rows| rows.last(OVERLAP * 2).to_h { |id, _, _| [id, true] } }, news]
      end

      def latest(table, task, seen)
        all = @root.db[table]
        last = seen&.keys&.max || all.max(:id) || 0
        all = all.exclude(record_id: nil) unless task
        all.where(Sequel[:id] > last - OVERLAP).order(:id).limit(MOST)
          .select_map([:id, :record_id, Sequel.as(task, :task)])
      end

      def tell(news)
        return send_all(": still here\n\n") if news.empty?

        streams = greeted
        shared = @onlookers.share(news, streams.map(&:person).uniq)
        messages = shared.transform_values { |some| some.any? && "data: #{JSON.generate(named(some))}\n\n" }
        heard = streams.select { |stream| messages[stream.person] }
        leave(heard.reject { |stream| send_to(stream.socket, messages[stream.person]) })
      end

      def named(news)
        records, tasks = [1, 2].map { |column| news.filter_map { |row| row[column] }.uniq }
        (records.size > NAMED || tasks.size > NAMED) ? {all: true} : {records:, tasks:}
      end

      def send_all(message) = leave(greeted.reject { |stream| send_to(stream.socket, message) })

      def greeted = @lock.synchronize { @streams.select(&:socket) }

      # Gives places free again. Whatever made a page go, its socket is closed.
      def leave(streams)
        return if streams.empty?

        @lock.synchronize { @streams -= streams }
        streams.each { |stream| close(stream.socket) }
      end

      def close(socket)
        socket&.close
      rescue SystemCallError, IOError
        nil
      end

      # Pages that hear of it read the time anew.
      def tell_clock
        ahead = @clock && (@clock.now - @clock.plain).round
        if @ahead && ahead && (ahead - @ahead).abs > 2
          send_all("data: #{JSON.generate(clock: true, records: [], tasks: [])}\n\n")
        end
        @ahead = ahead
      end

      # Pages say nothing on their streams; what can be read is the end.
      def gone?(socket)
        socket.read_nonblock(1_024, exception: false).nil?
      rescue SystemCallError, IOError
        true
      end

      # A page that does not read is let go rather than waited for; its browser connects again.
      def send_to(socket, message)
        socket.write_nonblock(message, exception: false) == message.bytesize
      rescue SystemCallError, IOError
        false
      end

      def monotonic = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    end
  end
end
