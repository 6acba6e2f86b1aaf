# frozen_string_literal: true

module Yenvo
  module Web
    # Tasks that wait for the person who caused them.
    class Proposals < Base
      get("/?") { answer 200, {proposals: present.proposals(root.proposals.of(person[:key]))} }

      post "/:id/send" do
        root.proposals.find!(id, person[:key])
        answer 200, present.task(root.proposals.send_off(id, body_of_call["task"], cause:))
      end

      post "/:id/throw" do
        root.proposals.find!(id, person[:key])
        root.proposals.throw_away(id, cause:)
        answer 200, {thrown: true}
      end
    end
  end
end
