# frozen_string_literal: true

module Yenvo
  module Web
    # Addresses of the house to which people write, what came in by mail, and the addresses from which mail came back,
    # for administrators.
    class MailDoors < Base
      before { may.set_up! }

      get("/?") { answer 200, shown }

      post "/?" do
        made = changes.make(*body_of_call.values_at("name", "kind", "address"), cause:)
        answer 201, shown(key: made)
      end

      put "/?" do
        changes.write(key, body_of_call["door"], cause:, seen: body_of_call["seen"])
        answer 200, sheet(key)
      end

      delete("/?") { changes.retire(key, cause:).then { answer 200, shown } }
      post("/back") { changes.bring_back(key, cause:).then { answer 200, shown } }
      get("/sheet") { answer 200, sheet(params["key"]) }
      get("/letters") { answer 200, present.letters(root.letters.page(before: number("before"))) }

      # Whether the house's own mails are answered to Yenvo.
      put "/answers" do
        changes.take_answers(body_of_call["answers"], cause:)
        root.forget
        answer 200, shown
      end

      # That mail to an address arrives again.
      post "/works" do
        address = body_of_call["address"]
        raise Store::NotFound, "No mail came back from #{address}." unless root.returned.forget(address)

        answer 200, shown
      end

      private

      def changes = root.mail_doors
      def key = body_of_call["key"]
      def sheet(key) = present.mail_door_sheet(changes.find!(key))

      def shown(more = {})
        {doors: present.mail_doors, answers: changes.answers?, from:, returned: present.returned, **more}
      end

      def from = root.setup_store.setting("mail_from", nil)
    end
  end
end
