# frozen_string_literal: true

require "puma"
require "puma/server"

module Yenvo
  module Web
    # Bounds the body of a call by its own limit before Puma reads on, so that what is too long never stands on the
    # disk. Puma itself knows one limit for all calls, by which it looks at the length that a call says and counts what
    # comes in chunks; this puts in the limit of the very path at the moment when the head has been read, and words the
    # refusal.
    module BodyLimits
      # In Puma::Client.
      module OfPath
        def setup_body
          self.http_content_length_limit = BodyLimits.most(@env)
          super
        end
      end

      # In Puma::Server.
      module Sentence
        private

        def response_to_error(client, requests, error, status)
          return super unless status == 413

          prepare_response(*Json.refuse(413, Described.too_much(BodyLimits.most(client.env))), requests, client)
        end
      end

      # @param env [Hash] as Puma has it when the head has been read; a call to a proxy has its path in the whole
      #   address only
      # @return [Integer] bytes
      def self.most(env) =
        Described.most(env["REQUEST_PATH"] || env["REQUEST_URI"].to_s[%r{\A\w+://[^/?#]*([^?#]*)}, 1].to_s)

      # @raise [NameError] where a later Puma has no such steps, so that nobody runs without limits unawares
      def self.hold!
        Puma::Client.instance_method(:setup_body)
        Puma::Server.instance_method(:response_to_error)
        Puma::Client.prepend(OfPath)
        Puma::Server.prepend(Sentence)
      end
    end
  end
end
