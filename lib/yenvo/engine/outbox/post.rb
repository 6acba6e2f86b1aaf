# frozen_string_literal: true

require "net/http"
require "openssl"
require "time"

module Yenvo
  module Engine
    # Posts JSON to an address outside over HTTP (RFC 9110): at the one IP address that was looked at, without following
    # where an answer leads, within seconds, and reading no more of the answer than a little.
    class Post
      OPEN_SECONDS = 5
      ALL_SECONDS = 10
      MOST_ANSWER = 64 * 1024
      # Status codes of 4xx after which another try may go well.
      LATER = [408, 425, 429].freeze
      LONGEST_PAUSE = 86_400
      AWAY = [SystemCallError, IOError, SocketError, Timeout::Error, OpenSSL::SSL::SSLError, Net::ProtocolError,
        Net::HTTPBadResponse, Net::HTTPHeaderSyntaxError, Zlib::Error].freeze
      # @param outside [Outside]
      def initialize(outside, clock:)
        @outside = outside
        @clock = clock
      end

      # @param url [String]
      # @param body [String] JSON
      # @param headers [Hash{String => String}]
      # @return [Answer]
      def call(url, body, headers)
        uri = URI(url)
        ip = Timeout.timeout(OPEN_SECONDS) { @outside.find(uri) }
        Timeout.timeout(ALL_SECONDS) { ask(uri, ip, body, headers) }
      rescue Outside::Refused => refused
        Answer.new(state: "never", words: refused.message, rest: false)
      rescue *AWAY => error
        Answer.new(state: "later", words: "#{uri.host} did not answer: #{error.message.to_s.scrub("?")}"[0, 400])
      end

      private

      def ask(uri, ip, body, headers)
        request = Net::HTTP::Post.new(uri.request_uri, {"accept-encoding" => "identity", **headers})
        request.body = body
        connection(uri, ip).start do |http|
          # Leaving the block shuts the connection, so that what is too long is not read to its end.
          http.request(request) { |response| return told(uri, response, read(response)) }
        end
      end

      # @return [String, nil] the answer; nil where it is longer than is read
      def read(response)
        text = +""
        response.read_body do |part|
          text << part
          return nil if text.bytesize > MOST_ANSWER
        end
        text
      end

      def connection(uri, ip)
        # No proxy of the environment: it would look the name up again.
        Net::HTTP.new(uri.hostname, uri.port, nil).tap do |http|
          http.ipaddr = ip
          http.use_ssl = uri.scheme == "https"
          http.open_timeout = OPEN_SECONDS
          http.read_timeout = http.write_timeout = ALL_SECONDS
          http.max_retries = 0
        end
      end

      def told(uri, response, text)
        code = response.code.to_i
        words = "#{uri.host}: #{[code, plain(response.message.to_s), said(text)].compact.join(" ").strip}"[0, 400]
        return Answer.new(state: "sent", words:, body: json(text)) if code.between?(200, 299)
        return Answer.new(state: "later", words:, after: after(response)) if code >= 500 || LATER.include?(code)

        words += ". Calls do not follow elsewhere" if code.between?(300, 399)
        Answer.new(state: "never", words:, rest: false)
      end

      def said(text)
        return "with an answer of more than #{MOST_ANSWER / 1024} kB, which is not read" if text.nil?

        plain(text)
      end

      # Whatever bytes came.
      def plain(text) = text.dup.force_encoding(Encoding::UTF_8).scrub("?").gsub(/[[:cntrl:]\s]+/, " ").strip[0, 200]

      def json(text)
        text && JSON.parse(text.dup.force_encoding(Encoding::UTF_8), max_nesting: 20)
      rescue JSON::ParserError
        nil
      end

      # Retry-After (RFC 9110, 10.2.3): seconds, or a date.
      def after(response)
        text = response["retry-after"].to_s.strip
        seconds = text.match?(/\A\d{1,9}\z/) ? text.to_i : (Time.httpdate(text) - @clock.now).ceil
        seconds.clamp(0, LONGEST_PAUSE)
      rescue ArgumentError
        nil
      end
    end
  end
end
