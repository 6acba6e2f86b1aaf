# frozen_string_literal: true

module Yenvo
  module Web
    # Doors by which programs come in, and what waits in their inbox, for administrators.
    class ProgramDoors < Base
      before { may.set_up! }

      get("/?") { answer 200, shown }

      post "/?" do
        key, secret = changes.make(*body_of_call.values_at("name", "kind"), cause:)
        answer 201, shown(key:, secret:)
      end

      put "/?" do
        changes.write(key, body_of_call["door"], cause:, seen: body_of_call["seen"])
        answer 200, sheet
      end

      delete("/?") { changes.retire(key, cause:).then { answer 200, shown } }
      post("/back") { changes.bring_back(key, cause:).then { answer 200, shown } }
      post("/secret") { answer 200, {secret: changes.renew(key, cause:)} }
      get("/sheet") { answer 200, present.door_sheet(changes.find!(params["key"])) }

      # What would come of a message, by the table as it stands in the sheet.
      post "/try" do
        row = changes.find!(key)
        map, problems = changes.read(row, body_of_call["map"])
        came = map ? root.arrivals.try(map, body_of_call["message"]) : [{}, {}, nil]
        answer 200, present.door_try(map, problems, *came)
      end

      get "/inbox" do
        rows = root.arrivals.page(state: params["state"] || "refused", door: params["door"], before: number("before"))
        answer 200, present.arrivals(rows)
      end

      post("/inbox/again") { answer 200, present.arrival(root.arrivals.again(body_of_call["id"], cause:)) }
      post("/inbox/all") { answer 200, root.arrivals.all_again(body_of_call["door"], cause:) }
      post("/inbox/away") { root.arrivals.put_away(body_of_call["id"], cause:).then { answer 200, {away: true} } }

      private

      def changes = root.program_doors
      def key = body_of_call["key"]
      def shown(more = {}) = {doors: present.doors, **more}
      def sheet = present.door_sheet(changes.find!(key))
    end
  end
end
