# frozen_string_literal: true

module Yenvo
  module Web
    # /healthz: the process lives. /readyz: and its database answers, and takes what is written.
    class Health
      NO_MAJORITY = "This node of the database is not part of a cluster that has a majority."

      # Answers at a port of its own, by threads of its own, so that it is heard also while all others wait for
      # something.
      # @param house [House]
      # @param port [Integer] on loopback, or where the house answers
      # @return [Puma::Server]
      def self.serve(house, port:)
        app = Rack::URLMap.new("/healthz" => new(house, deep: false), "/readyz" => new(house, deep: true))
        server = Puma::Server.new(app, nil, min_threads: 1, max_threads: 2)
        server.add_tcp_listener(house.settings.host, port)
        server.run
        server
      end

      def initialize(house, deep:)
        @house = house
        @deep = deep
      end

      def call(_env)
        if @deep && !@house.root.writable?
          return Json.refuse(503, NO_MAJORITY)
        end

        Json.answer(200, {ok: true})
      end
    end
  end
end
