# frozen_string_literal: true

module Yenvo
  module Web
    # Forms of the set-up, for administrators.
    class Forms < Base
      before { may.set_up! }

      get("/?") { answer 200, shown }
      post("/?") { answer 201, shown(key: changes.make(*body_of_call.values_at("name", "kind"), cause:)) }

      put "/?" do
        changes.write(key, body_of_call["form"], cause:, seen: body_of_call["seen"])
        answer 200, sheet
      end

      delete("/?") { changes.retire(key, anyway: body_of_call["anyway"] == true, cause:).then { answer 200, shown } }
      post("/back") { changes.bring_back(key, cause:).then { answer 200, shown } }
      post("/publish") { changes.publish(key, cause:, seen: body_of_call["seen"]).then { answer 200, sheet } }
      post("/open") { changes.open(key, body_of_call["open"], cause:).then { answer 200, sheet } }
      get("/sheet") { answer 200, present.form_sheet(changes.find!(params["key"])) }

      get "/version" do
        row = changes.version!(params["key"], number("number"))
        answer 200, {**present.kept_version(row, changes), form: JSON.parse(row[:body])}
      end

      # How it looks to a visitor, as it stands in the sheet.
      post "/preview" do
        form, problems = changes.read(body_of_call["form"])
        page = form && FormPage.new(form, house: root.setup_store.house_name, assets: Assets.of(FormPage::ENTRY))
        answer 200, {html: page&.html, problems: problems.map(&:to_h)}
      end

      private

      def changes = root.forms
      def key = body_of_call["key"]
      def shown(more = {}) = {forms: present.forms, **more}
      def sheet = present.form_sheet(changes.find!(key))
    end
  end
end
