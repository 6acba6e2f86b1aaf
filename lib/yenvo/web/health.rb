# frozen_string_literal: true

module Yenvo
  module Web
    # /healthz: the process lives. /readyz: and its database answers, and takes what is written.
    class Health
      def initialize(house, deep:)
        @house = house
        @deep = deep
      end

      def call(_env)
        return Json.refuse(503, "This node of the database is not part of a cluster that has a majority.") if @deep && !@house.root.writable?

        Json.answer(200, {ok: true})
      end
    end
  end
end
