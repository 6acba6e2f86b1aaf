# frozen_string_literal: true

require "net/http"

# Signs in at a running web process and listens to its live news, as open pages do.
module Streams
  # Somebody signed in at a web process.
  class Guest
    # @param address [String]
    def initialize(address, name)
      @uri = URI(address)
      take_token
      ask(
        "Post", "/api/sign-in",
        JSON.generate(email: "#{name}@fennick.example", password: Yenvo::Settings::DEMO_PASSWORD)
      )
      take_token
    end

    # Sends what the page sends: without a body there is no type of one either.
    # @return [Net::HTTPResponse]
    def ask(method, path, body = nil)
      request =
        Net::HTTP.const_get(method).new(
          path, {"cookie" => @cookie, "x-csrf-token" => @token, "content-type" => body && "application/json"}.compact
        )
      request.body = body
      request["content-length"] = "0" if method == "Post" && body.nil?
      answer = Net::HTTP.start(@uri.host, @uri.port, read_timeout: 30) { |http| http.request(request) }
      @cookie = answer["set-cookie"]&.[](/yenvo=[^;]+/) || @cookie
      answer
    end

    # @return [String] value of the cookie that keeps the session
    def session = @cookie.delete_prefix("yenvo=")

    # @return [Stream]
    def listen = Stream.new(@uri, @cookie)

    private

    def take_token = @token = JSON.parse(ask("Get", "/api/session").body)["csrf"]
  end

  # One open page's stream.
  class Stream
    # @return [String] all that was heard
    attr_reader :heard

    def initialize(uri, cookie)
      @socket = TCPSocket.new(uri.host, uri.port)
      @socket.write("GET /api/live HTTP/1.1\r\nHost: #{uri.host}\r\nCookie: #{cookie}\r\n\r\n")
      @heard = +""
    end

    # @return [Boolean] whether this was said until now
    def heard?(text)
      read
      @heard.include?(text)
    end

    # @return [Boolean] whether the other side has closed it
    def ended?
      read
      @ended == true
    end

    def close = @socket.close

    private

    def read
      while (text = @socket.read_nonblock(65_536, exception: false)).is_a?(String)
        @heard << text
      end
      @ended = true if text.nil?
    rescue SystemCallError, IOError
      @ended = true
    end
  end
end
