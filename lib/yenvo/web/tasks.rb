# frozen_string_literal: true

module Yenvo
  module Web
    # Tasks: made by hand, looked at, and worked.
    class Tasks < Base
      post("/?") { answer 201, present.task(root.tasks.make(body_of_call, cause: cause)) }

      get("/:id") { answer 200, present.panel(root.tasks.find!(id)) }

      post("/:id/done") { worked { root.tasks.finish(id, answer: body_of_call["answer"], note: body_of_call["note"], cause: cause) } }
      post("/:id/drop") { worked { root.tasks.drop(id, note: body_of_call["note"], cause: cause) } }
      post("/:id/put-off") { worked { root.tasks.put_off(id, on: body_of_call["due_on"], at: body_of_call["due_at"], cause: cause) } }
      post("/:id/pass-on") { worked { root.tasks.pass_on(id, assignee: body_of_call["assignee"], queue: body_of_call["queue"], cause: cause) } }
      post("/:id/take") { worked { root.tasks.take(id, cause: cause) } }

      private

      def worked
        may.work!(root.tasks.find!(id), root.schema)
        answer 200, present.task(yield)
      end
    end
  end
end
