# frozen_string_literal: true

module Yenvo
  module Web
    # Where messages of rules go outside, for administrators. What calls are signed with is told once, when it is made.
    class Addresses < Base
      before { may.set_up! }

      get("/?") { answer 200, shown }

      post "/?" do
        key, secret = changes.write(nil, body_of_call["address"], cause:)
        answer 201, shown(key:, secret:)
      end

      put "/?" do
        key, = changes.write(body_of_call["key"], body_of_call["address"], cause:)
        answer 200, shown(key:)
      end

      delete "/?" do
        changes.retire(key, anyway: body_of_call["anyway"] == true, cause:)
        answer 200, shown(key:)
      end

      post("/back") { changes.bring_back(key, cause:).then { answer 200, shown(key:) } }
      post("/secret") { answer 201, shown(key:, secret: changes.change_secret(key, cause:)) }
      delete("/secret") { changes.drop_second(key, cause:).then { answer 200, shown(key:) } }
      post("/try") { answer 201, {message: changes.try(key, cause:)} }

      private

      def changes = Store::Addresses.new(root, seen:)
      def key = body_of_call["key"]
      def shown(more = {}) = {addresses: changes.all.map { |row| present.plain(row) }, **more.compact}
    end
  end
end
