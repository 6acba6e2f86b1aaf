# frozen_string_literal: true

module Yenvo
  module Web
    # Tells open pages what changed, as server-sent events (HTML Living Standard, "Server-sent events"). One thread per
    # process looks at the end of the journal, however many pages listen; pages fetch anew what concerns them.
    class Live
      HEAD = "HTTP/1.1 200 OK\r\ncontent-type: text/event-stream\r\ncache-control: no-store\r\nx-accel-buffering: no\r\nconnection: close\r\n\r\n"
      QUIET_SECONDS = 15
      # Numbers are given out before they are committed, so the last few are looked at again.
      OVERLAP = 500
      MOST = 2_000

      # @param root [Store::Root]
      # @param every [Float] seconds between two looks
      # @param clock [Clock, nil] whose being moved is told too
      def initialize(root, every: 0.5, clock: nil)
        @root = root
        @clock = clock
        @every = every
        @sockets = []
        @lock = Mutex.new
        @log = SemanticLogger["Live"]
      end

      # Rack: takes the connection over, so that it holds no thread of the server.
      def call(env)
        hijack = env["rack.hijack"] or return Json.refuse(501, "This server cannot keep a connection open.")
        # What happens from here on is told: first the place in the journal, then the greeting, on which a page loads.
        start = look(nil).first
        socket = hijack.call
        socket.write(HEAD, "retry: 1000\n: hello\n\n")
        @lock.synchronize do
          @sockets << socket
          @thread = Thread.new { look_on(start) } unless @thread&.alive?
        end
        [200, {}, []]
      end

      private

      def look_on(seen)
        told = monotonic
        loop do
          sleep @every
          break if @lock.synchronize { @sockets.empty? && (@thread = nil).nil? }

          seen, news = look(seen)
          tell_clock
          next if news.empty? && monotonic - told < QUIET_SECONDS

          tell(news)
          told = monotonic
        rescue Sequel::Error => error
          @log.warn("The journal cannot be read; pages wait", error: error.class.name)
        end
      end

      # @return [Array(Hash, Array<Hash>)] entries seen so far (number to true) and those that are new
      def look(seen)
        last = seen&.keys&.max || @root.db[:journal].max(:id) || 0
        rows = @root.db[:journal].where(Sequel[:id] > last - OVERLAP).order(:id).limit(MOST).select_map([:id, :record_id, :task_id])
        news = seen ? rows.reject { |id, _, _| seen[id] } : []
        [rows.last(OVERLAP * 2).to_h { |id, _, _| [id, true] }, news]
      end

      def tell(news)
        message = news.empty? ? ": still here\n\n" : "data: #{JSON.generate(records: news.filter_map { |row| row[1] }.uniq.first(200), tasks: news.filter_map { |row| row[2] }.uniq.first(200))}\n\n"
        send_all(message)
      end

      def send_all(message)
        all = @lock.synchronize { @sockets.dup }
        gone = all.reject { |socket| send_to(socket, message) }
        @lock.synchronize { @sockets -= gone }
      end

      # Pages that hear of it read the time anew.
      def tell_clock
        ahead = @clock && (@clock.now - @clock.plain).round
        send_all("data: #{JSON.generate(clock: true, records: [], tasks: [])}\n\n") if @ahead && ahead && (ahead - @ahead).abs > 2
        @ahead = ahead
      end

      # A page that does not read is let go rather than waited for; its browser connects again.
      def send_to(socket, message)
        (socket.write_nonblock(message, exception: false) == message.bytesize) || (socket.close && false)
      rescue SystemCallError, IOError
        false
      end

      def monotonic = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    end
  end
end
