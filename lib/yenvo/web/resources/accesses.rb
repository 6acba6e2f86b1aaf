# frozen_string_literal: true

module Yenvo
  module Web
    # Who sees, changes and takes away records, for administrators.
    class Accesses < Base
      before { may.set_up! }

      put "/?" do
        changes.change(body_of_call["kind"], body_of_call["access"], cause:)
        root.forget
        answer 200, {key: body_of_call["kind"], setup: Present.new(root, now:, person:).setup}
      end

      post("/preview") { answer 200, changes.preview(body_of_call["kind"], body_of_call["access"]) }

      private

      def changes = Store::AccessChanges.new(root, seen:)
    end
  end
end
