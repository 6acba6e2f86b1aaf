# frozen_string_literal: true

module Yenvo
  module Web
    # Texts of the set-up, for administrators.
    class Texts < Base
      before { may.set_up! }

      get("/?") { answer 200, shown }
      post("/?") { answer 201, shown(key: changes.write(nil, body_of_call["text"], cause:)) }
      put("/?") { answer 200, shown(key: changes.write(key, body_of_call["text"], cause:)) }
      delete("/?") { changes.retire(key, anyway: body_of_call["anyway"] == true, cause:).then { answer 200, shown } }
      post("/back") { changes.bring_back(key, cause:).then { answer 200, shown } }

      get "/version" do
        row = changes.version!(params["key"], number("number"))
        answer 200, {**present.kept_version(row, changes), subject: row[:subject], text: row[:body]}
      end

      private

      def changes = Store::Texts.new(root, seen:)
      def key = body_of_call["key"]
      def shown(more = {}) = {texts: present.in_versions(changes), **more}
    end
  end
end
