# frozen_string_literal: true

module Yenvo
  module Web
    # Answers in JSON.
    module Json
      TYPE = "application/json"

      module_function

      # @return [Array] a Rack answer
      def answer(status, body) =
        [status, {"content-type" => TYPE, "cache-control" => "no-store"}, [JSON.generate(body)]]

      # @return [Array] a Rack answer that refuses with a sentence
      def refuse(status, sentence, **more) = answer(status, {error: sentence, **more})
    end
  end
end
