# frozen_string_literal: true

module Yenvo
  module Web
    # What belongs to whoever is signed in: their sessions.
    class Mes < Base
      get("/sessions") { answer 200, {sessions:} }

      delete "/sessions" do
        store.finish(here[:account_id], body_of_call["id"], here: here[:session_id])
        answer 200, {sessions:}
      end

      private

      def here = env["yenvo.session"]
      def store = Store::Sessions.new(root)

      def sessions
        store.of(here[:account_id]).map do |row|
          {
            id: row[:session_id], device: row[:device], here: row[:session_id] == here[:session_id],
            begun_at: Core::Reading.moment(row[:created_at]), used_at: Core::Reading.moment(row[:last_use])
          }
        end
      end
    end
  end
end
