# frozen_string_literal: true

module Yenvo
  module Web
    # Where records come in from outside without a sign-in: forms that visitors send, and messages of other programs.
    # Only lists that an administrator has opened take such, and only what their fields can hold; who calls too often is
    # turned away by Rack::Attack.
    class Doors < Base
      get("/:list") { answer 200, present.form(kind!) }

      post "/:list/:door" do
        raise Store::NotFound, "There is nothing at this address." unless Core::EventSide::DOORS.key?(params["door"])

        known! if params["door"] == "message"
        image =
          root.records.make(
            kind!.key, body_of_call["values"].slice(*open_fields), cause: Store::Journal::Cause.person(nil, now),
            door: params["door"]
          )
        answer 201, {received: true, number: image["id"]}
      rescue Store::Refused => error
        # Which rules the house has, and what it knows already, is nobody's business outside.
        raise unless error.fields.key?("rule") || error.details[:taken]

        refuse 422,
          "This could not be taken. Nothing was kept; tell the people you are writing to.",
          fields: {"" => "This could not be taken. Nothing was kept; tell the people you are writing to."}
      end

      private

      def kind!
        kind = root.schema.list(params["list"].to_s)
        open = (params["door"] == "message") ? kind && door_of(kind) : kind&.open_door
        (kind if open) || raise(Store::NotFound, "There is no form at this address.")
      end

      # The digest of the secret with which programs come in, where that door is open.
      def door_of(kind) = root.setup_store.program_door(kind.key)

      # Programs show the secret that the administrator was given when the door was opened.
      def known!
        shown = OpenSSL::Digest::SHA256.hexdigest(env["HTTP_AUTHORIZATION"].to_s.delete_prefix("Bearer "))
        return if Rack::Utils.secure_compare(shown, door_of(kind!))

        answer 401, {error: "Send the secret of this door in the header Authorization, as Bearer and the secret."}
      end

      # Visitors give no owner and lead to no records of the house.
      def open_fields = ["title", *present.form_fields(kind!).map(&:key)]
    end
  end
end
