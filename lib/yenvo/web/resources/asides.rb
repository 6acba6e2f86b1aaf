# frozen_string_literal: true

module Yenvo
  module Web
    # Events that no worker could settle and that stand aside, for administrators.
    class Asides < Base
      before { may.write_rules! }

      get("/?") { answer 200, {entries: present.asides(root.waiting.aside)} }

      post "/:id/again" do
        root.waiting.again(id)
        answer 200, {entries: present.asides(root.waiting.aside)}
      end
    end
  end
end
