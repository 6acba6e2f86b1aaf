# frozen_string_literal: true

require "json"
require "openssl"

module Yenvo
  module Standins
    # A small simulated receiver of web calls: keeps what was posted to it, and shows it. It checks signatures after the
    # open standard for webhooks, where it knows a secret. It stands in for programs of others while rules are tried
    # out; it knows nothing of Yenvo.
    #
    #   POST any path     keeps the call, answers 202, or 200 with what +answers+ gives
    #   GET  /            the calls kept, newest first, as JSON
    #   DELETE /          forgets them
    class WebReceiver
      include Manners

      KEPT = 200
      MAX_BODY = 200_000
      # Seconds by which a signed moment may be off.
      FRESH = 300
      SIGNED = %w[id timestamp signature].freeze

      attr_writer :slow

      # @return [Array<String>] secrets with which calls may be signed, as the standard writes them
      attr_accessor :secrets

      # @param clock [#now] gives the Time at which a call came
      # @param secrets [Array<String>] none where signatures are not looked at
      # @param answers [Proc, nil] from the JSON that came and how many came before to what is answered
      def initialize(clock:, secrets: [], answers: nil)
        @clock = clock
        @secrets = secrets
        @answers = answers
        @calls = []
        @count = 0
        @lock = Mutex.new
      end

      # @return [Array<Hash>] the calls kept, the newest first: path, type, body, at, id and signed ("rightly",
      #   "wrongly", "not", or nil where it is not looked at)
      def calls = @lock.synchronize { @calls.reverse }

      # Forgets them.
      # @return [Integer] how many
      def clear = @lock.synchronize { @calls.slice!(0..).size }

      # Rack.
      def call(env)
        case env["REQUEST_METHOD"]
        when "POST" then post(env)
        when "GET" then answer(200, calls:)
        when "DELETE" then answer(200, forgotten: clear)
        else answer(405, error: "Post a call, get the list, or delete it.")
        end
      end

      private

      def post(env)
        dawdle if manner == "slow"
        case manner
        when "refuse" then answer(410, error: "Gone.")
        when "put_off" then [503, {"retry-after" => "30", "content-type" => "application/json"}, ['{"error":"Later."}']]
        when "dead" then hang_up(env)
        else keep(env)
        end
      end

      # Nothing is answered, and nobody is there any more.
      def hang_up(env)
        env["rack.hijack"]&.call&.close
        answer(500, error: "Gone.")
      end

      def keep(env)
        body = env["rack.input"]&.read(MAX_BODY + 1).to_s
        return answer(413, error: "A call may have at most #{MAX_BODY} bytes.") if body.bytesize > MAX_BODY

        signed = signed(env, body)
        text = body.dup.force_encoding(Encoding::UTF_8).scrub
        before = @lock.synchronize { note(env, text, signed) }
        return answer(401, error: "The signature is wrong.") if %w[wrongly not].include?(signed)

        said = @answers&.call(parsed(text), before)
        said ? answer(200, said) : answer(202, kept: true)
      end

      # @return [Integer] how many calls came before
      def note(env, body, signed)
        kept = {
          path: env["PATH_INFO"], type: env["CONTENT_TYPE"], body:, at: @clock.now.utc.strftime("%FT%T.%6NZ"),
          id: env["HTTP_WEBHOOK_ID"], signed:
        }.compact
        @calls = [*@calls, kept].last(KEPT)
        (@count += 1) - 1
      end

      def signed(env, body)
        return if secrets.empty?

        id, at, given = SIGNED.map { |name| env["HTTP_WEBHOOK_#{name.upcase}"] }
        return "not" unless id && at && given

        fresh = (@clock.now.to_i - at.to_i).abs <= FRESH
        wanted = secrets.map { |secret| signature(secret, "#{id}.#{at}.#{body}") }
        (fresh && given.split.any? { |one| wanted.include?(one) }) ? "rightly" : "wrongly"
      end

      def signature(secret, signed)
        key = secret.delete_prefix("whsec_").unpack1("m")
        "v1,#{[OpenSSL::HMAC.digest("SHA256", key, signed)].pack("m0")}"
      end

      def parsed(text)
        JSON.parse(text)
      rescue JSON::ParserError
        nil
      end

      def answer(status, body) = [status, {"content-type" => "application/json"}, [JSON.generate(body)]]
    end
  end
end
