# frozen_string_literal: true

module Yenvo
  module Web
    # /healthz: the process lives. /readyz: and its database answers.
    class Health
      def initialize(house, deep:)
        @house = house
        @deep = deep
      end

      def call(_env)
        @house.root.db.get(1) if @deep
        Json.answer(200, {ok: true})
      end
    end
  end
end
