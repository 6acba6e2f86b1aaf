# frozen_string_literal: true

require "json"

module Yenvo
  module Engine
    # Writes on boards: {"text": …} posted to the address of a channel, as chat servers take it.
    class BoardWay
      GONE = "The address is not in the set-up any more."

      # @param root [Store::Root]
      # @param post [Post]
      def initialize(root, post)
        @root = root
        @post = post
      end

      def ready? = true

      # @param row [Hash] of the outbox, with its content
      # @return [Answer]
      def send_off(row)
        address = @root.addresses.in_use(row[:destination].delete_prefix("address/"))
        return Answer.new(state: "never", words: GONE, rest: false) unless address

        body = body(row)
        @post.call(address[:url], body, headers(row, address, body))
      end

      private

      def body(row) = JSON.generate("text" => row[:content]["text"])
      def headers(_row, _address, _body) = {"content-type" => "application/json"}
    end
  end
end
