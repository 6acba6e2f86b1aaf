# frozen_string_literal: true

module Yenvo
  module Web
    # Teams and queues, for administrators: made, renamed, retired, brought back.
    class Desks < Base
      before { may.set_up! }

      get("/?") { answer 200, all }

      post("/teams") { saved changes.team(nil, body_of_call["team"], cause:), 201 }
      put("/teams") { saved changes.team(body_of_call["key"], body_of_call["team"], cause:) }
      delete("/teams") { saved changes.retire_team(*gone, anyway:, cause:) }

      post("/queues") { saved changes.queue(nil, body_of_call["queue"], cause:), 201 }
      put("/queues") { saved changes.queue(body_of_call["key"], body_of_call["queue"], cause:) }
      delete("/queues") { saved changes.retire_queue(*gone, anyway:, cause:) }

      post("/back") { saved changes.bring_back(body_of_call["what"].to_sym, body_of_call["key"], cause:) }

      private

      def changes = Store::DeskChanges.new(root, seen:)
      def gone = [body_of_call["key"]]
      def anyway = body_of_call["anyway"] == true
      def saved(key, status = 200) = answer(status, {**all, key: key.to_s})

      # @return [Hash] teams and queues as they are now
      def all = changes.all.transform_values { |rows| rows.map { |row| present.plain(row) } }
    end
  end
end
