# frozen_string_literal: true

require "prometheus/client"
require "prometheus/client/formats/text"

module Yenvo
  module Web
    # Figures for those who run Yenvo, in the text format of Prometheus.
    class Metrics
      REGISTRY = Prometheus::Client.registry
      CALLS = REGISTRY.counter(:yenvo_http_calls_total, docstring: "Answered calls", labels: %i[method status])
      SECONDS = REGISTRY.histogram(:yenvo_http_seconds, docstring: "Time to answer a call", labels: %i[method])
      WAITING = REGISTRY.gauge(:yenvo_waiting_entries, docstring: "Journal entries that no worker has settled")
      LATE =
        REGISTRY.gauge(:yenvo_late_timer_seconds, docstring: "Age of the oldest timer that is due and has not fired")
      OUTBOX = REGISTRY.gauge(:yenvo_outbox_messages, docstring: "Messages in the outbox", labels: %i[way state])
      OLDEST = REGISTRY.gauge(:yenvo_outbox_oldest_seconds, docstring: "Age of the oldest message that waits")
      METHODS = %w[GET POST PUT PATCH DELETE HEAD].freeze

      def self.count(method, status, seconds)
        method = METHODS.include?(method) ? method : "other"
        CALLS.increment(labels: {method:, status:})
        SECONDS.observe(seconds, labels: {method:})
      end

      def initialize(house)
        @house = house
      end

      def call(env)
        unless may?(env)
          return (
            Json.refuse(
              403, "The figures are given out to this machine alone, or to who sends the token of YENVO_METRICS_TOKEN."
            )
          )
        end

        WAITING.set(@house.root.waiting.count)
        first = @house.root.timers.next_due
        LATE.set(first ? [@house.clock.now - first, 0].max : 0)
        note_outbox(@house.root.outbox)
        [
          200, {"content-type" => Prometheus::Client::Formats::Text::CONTENT_TYPE, "cache-control" => "no-store"},
          [Prometheus::Client::Formats::Text.marshal(REGISTRY)]
        ]
      end

      private

      def note_outbox(outbox)
        counts = outbox.counts_by_way
        %w[mail board call].product(Store::Outbox::STATES - ["sent"]) do |way, state|
          OUTBOX.set(counts.fetch([way, state], 0), labels: {way:, state:})
        end
        OLDEST.set(outbox.oldest ? [@house.clock.now - outbox.oldest, 0].max : 0)
      end

      def may?(env)
        token = @house.settings.metrics_token or return @house.peer.here?(env)

        Rack::Utils.secure_compare(env["HTTP_AUTHORIZATION"].to_s, "Bearer #{token}")
      end
    end
  end
end
