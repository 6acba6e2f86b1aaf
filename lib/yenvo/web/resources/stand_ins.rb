# frozen_string_literal: true

require "net/http"

module Yenvo
  module Web
    # What came to the stand-ins of the demo, and how they behave. There is nothing here where no demo runs.
    class StandIns < Base
      WAIT_SECONDS = 20
      GONE = "The stand-ins do not answer. They run with the demo: bin/start starts them."

      before { raise Store::NotFound, "There are stand-ins in the demo alone." unless house.settings.standins }

      get("/?") { passed(Net::HTTP::Get.new("/")) }
      post("/manner") { passed(Net::HTTP::Post.new("/manner"), body_of_call) }
      post("/feed") { passed(Net::HTTP::Post.new("/feed"), body_of_call) }
      post("/mail") { passed(Net::HTTP::Post.new("/mail"), body_of_call, wait: Standins::Correspondent::WAIT + 5) }
      delete("/?") { passed(Net::HTTP::Delete.new("/")) }

      private

      def passed(request, body = nil, wait: WAIT_SECONDS)
        request.body = JSON.generate(body) if body
        at = URI(house.settings.standins)
        more = {open_timeout: WAIT_SECONDS, read_timeout: wait}
        found = Net::HTTP.start(at.hostname, at.port, nil, **more) { |http| http.request(request) }
        answer found.code.to_i, JSON.parse(found.body)
      rescue SystemCallError, IOError, Timeout::Error, JSON::ParserError
        refuse 502, GONE
      end
    end
  end
end
