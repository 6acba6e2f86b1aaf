# frozen_string_literal: true

module Yenvo
  module Engine
    # Tells programs by web calls: CloudEvents 1.0 in the structured JSON form (the JSON Event Format of the
    # specification), signed after the open standard for webhooks (standardwebhooks.com, 1.0.0).
    class CallWay < BoardWay
      TYPE = "application/cloudevents+json; charset=utf-8"

      # @param root [Store::Root]
      # @param post [Post]
      # @param source [String, nil] where people reach the house
      def initialize(root, post, source:, clock:)
        super(root, post)
        @source = source || "urn:yenvo"
        @clock = clock
      end

      # @param secrets [Array<String>] each as the standard writes them
      # @return [String] one signature for each: HMAC-SHA256 over id, moment and body
      def self.signature(secrets, id, at, body)
        secrets.map do |secret|
          key = secret.delete_prefix(Store::Addresses::PREFIX).unpack1("m")
          "v1,#{[OpenSSL::HMAC.digest("SHA256", key, "#{id}.#{at}.#{body}")].pack("m0")}"
        end.join(" ")
      end

      private

      def body(row) = JSON.generate({"id" => row[:message_id], "source" => @source, **row[:content]["event"]})

      def headers(row, address, body)
        at = @clock.now.to_i
        secrets = address.values_at(:secret, :second_secret).compact
        {
          "content-type" => TYPE, "webhook-id" => row[:message_id], "webhook-timestamp" => at.to_s,
          "webhook-signature" => CallWay.signature(secrets, row[:message_id], at, body)
        }
      end
    end
  end
end
