# frozen_string_literal: true

module Yenvo
  module Web
    # Where records come in from outside without a sign-in: forms that visitors send, and messages of other programs. Only
    # lists that an administrator has opened take such, and only what their fields can hold; who calls too often is turned away by Rack::Attack.
    class Doors < Base
      get("/:list") { answer 200, present.form(kind!) }

      post "/:list/:door" do
        raise Store::NotFound, "There is nothing at this address." unless Core::EventSide::DOORS.key?(params["door"])

        image = root.records.make(kind!.key, body_of_call["values"].slice(*open_fields), cause: Store::Journal::Cause.person(nil, now), door: params["door"])
        answer 201, {received: true, number: image["id"]}
      end

      private

      def kind!
        kind = root.schema.list(params["list"].to_s)
        (kind if kind&.open_door) || raise(Store::NotFound, "There is no form at this address.")
      end

      # Visitors give no owner and lead to no records of the house.
      def open_fields = ["title", *present.form_fields(kind!).map(&:key)]
    end
  end
end
