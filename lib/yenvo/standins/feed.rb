# frozen_string_literal: true

require "json"
require "net/http"
require "yaml"

module Yenvo
  module Standins
    # A small simulated program outside that finds reviews and mentions of the yard and sends each as an event
    # (CloudEvents 1.0, structured) to a door: some of them twice, one of them such as nobody can take.
    class Feed
      SOURCE = "https://feed.example/yard"
      TYPE = "example.review.found"
      EVENTS = YAML.safe_load_file(File.join(__dir__, "feed.yml")).freeze
      # The door of the demo; everything here is invented.
      ADDRESS = "demoReviewsOfTheYard01"
      SECRET = "whsec_#{["the feed of the yard, invented!!"].pack("m0")}".freeze
      WAIT_SECONDS = 5

      # @param to [String, nil] where the house answers; nil while that is not known
      # @param clock [#now]
      def initialize(to:, clock:)
        @to = to
        @clock = clock
        @next = 0
        @sent = []
        @lock = Mutex.new
      end

      # @return [Array<Hash>] what was sent, the newest first: at, id, headline, status, answer
      def sent = @lock.synchronize { @sent.reverse }

      # @return [Integer] how many there are yet to be sent
      def left = EVENTS.size - @next

      # Begins anew.
      def clear = @lock.synchronize { @next = 0 and @sent.clear }

      # Sends the next, or all that are left.
      # @return [Integer] how many
      def play(all: false)
        @lock.synchronize do
          some = EVENTS[@next, all ? EVENTS.size : 1].to_a
          some.each { |event| @sent << send_one(event) }
          @next += some.size
          some.size
        end
      end

      private

      def send_one(event)
        at = @clock.now.utc
        told = {at: at.strftime("%FT%TZ"), id: event["id"], headline: event.dig("data", "headline")}
        answer = post({"specversion" => "1.0", "source" => SOURCE, "type" => TYPE, "time" => told[:at], **event})
        {**told, status: answer.code.to_i, answer: answer.body.to_s[0, 2_000]}
      rescue SystemCallError, IOError, Timeout::Error, URI::Error => error
        {**told, status: 0, answer: error.class.name}
      end

      def post(event)
        at = URI("#{@to}/in/#{ADDRESS}")
        headers = {"content-type" => "application/cloudevents+json", "authorization" => "Bearer #{SECRET}"}
        Net::HTTP.start(at.hostname, at.port, open_timeout: WAIT_SECONDS, read_timeout: WAIT_SECONDS) do |http|
          http.post(at.path, JSON.generate(event), headers)
        end
      end
    end
  end
end
