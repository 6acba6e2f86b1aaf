# frozen_string_literal: true

require "json"

module Yenvo
  module Standins
    # A small simulated receiver of web calls: keeps what was posted to it, and shows it. It stands in for programs of
    # others while rules are tried out; it knows nothing of Yenvo.
    #
    #   POST any path     keeps the call, answers 202
    #   GET  /            the calls kept, newest first, as JSON
    #   DELETE /          forgets them
    class WebReceiver
      KEPT = 200
      MAX_BODY = 200_000

      # @param clock [#now] gives the Time at which a call came
      def initialize(clock:)
        @clock = clock
        @calls = []
        @lock = Mutex.new
      end

      # Rack.
      def call(env)
        case env["REQUEST_METHOD"]
        when "POST" then keep(env)
        when "GET" then answer(200, calls: @lock.synchronize { @calls.reverse })
        when "DELETE" then answer(200, forgotten: @lock.synchronize { @calls.slice!(0..).size })
        else answer(405, error: "Post a call, get the list, or delete it.")
        end
      end

      private

      def keep(env)
        body = env["rack.input"]&.read(MAX_BODY + 1).to_s
        return answer(413, error: "A call may have at most #{MAX_BODY} bytes.") if body.bytesize > MAX_BODY

        kept = {
          path: env["PATH_INFO"], type: env["CONTENT_TYPE"], body: body.dup.force_encoding(Encoding::UTF_8).scrub,
          at: @clock.now.utc.strftime("%FT%T.%6NZ")
        }
        @lock.synchronize { @calls = [*@calls, kept].last(KEPT) }
        answer(202, kept: true)
      end

      def answer(status, body) = [status, {"content-type" => "application/json"}, [JSON.generate(body)]]
    end
  end
end
