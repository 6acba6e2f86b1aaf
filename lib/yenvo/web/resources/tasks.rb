# frozen_string_literal: true

module Yenvo
  module Web
    # Tasks: made by hand, looked at, and worked.
    class Tasks < Base
      TO = %w[assignee queue team team_way].freeze

      # Where others shall do it too, each of them gets one of their own.
      post "/?" do
        about = body_of_call["record_id"]
        raise Store::Refused.at("record_id" => Store::TaskForm.gone(about)) if about && !sight.record?(about)

        body_of_call["parent_id"]&.then { |parent| sight.task!(parent) }
        answer 201,
          present.task(root.tasks.make_each(body_of_call.except("also"), body_of_call["also"], cause:).first)
      end

      # A date in words, as it would be taken.
      get "/date-words" do
        found = Core::DateWords.read(params["text"], now:, calendar: root.calendar)
        answer 200,
          (
            if found
              {
                due_on: found.on.iso8601, due_at: found.minutes && Core::ClockTime.show(found.minutes),
                off: root.calendar.off_because(found.on)
              }
            else
              {due_on: nil, due_at: nil, off: nil}
            end
          )
      end

      # One step for several at once.
      post "/several" do
        step = body_of_call["step"]
        done, refused = root.transaction do
          root.tasks.several(body_of_call["ids"]) do |id|
            task = sight.task!(id)
            raise Store::Refused.at("task" => "You may not work this task.") unless may.work?(task)

            several_step(step, id)
          end
        end
        answer 200, {tasks: present.tasks(done), refused:}
      end

      get("/:id") { answer 200, present.panel(sight.task!(id)) }

      post("/:id/done") do
        worked { root.tasks.finish(id, answer: body_of_call["answer"], note: body_of_call["note"], cause:) }
      end
      post("/:id/drop") { worked { root.tasks.drop(id, note: body_of_call["note"], cause:) } }
      post("/:id/put-off") do
        worked { root.tasks.put_off(id, on: body_of_call["due_on"], at: body_of_call["due_at"], cause:) }
      end
      post("/:id/pass-on") { worked { root.tasks.pass_on(id, cause:, **to) } }
      post("/:id/take") { worked { root.tasks.take(id, cause:) } }
      post("/:id/give-back") { worked { root.tasks.give_back(id, cause:) } }
      post("/:id/state") do
        worked { root.tasks.set_state(id, body_of_call["state"], note: body_of_call["note"], cause:) }
      end
      post "/:id/reopen" do
        may.lead!
        sight.task!(id)
        answer 200, present.task(root.tasks.reopen(id, cause:))
      end

      post("/:id/edit") { worked { root.tasks.edit(id, body_of_call, cause:) } }
      # Whoever made the last step may take it back, also when the task is somebody else's by now.
      post "/:id/take-back" do
        sight.task!(id)
        answer 200, present.task(root.tasks.take_back(id, cause:))
      end

      post "/:id/comments" do
        sight.task!(id)
        root.comments.add(id, body_of_call["text"], cause:)
        answer 201, present.panel(sight.task!(id))
      end

      post "/:id/files" do
        may.work!(sight.task!(id), root.schema)
        root.attachments.add({task_id: id}, params["name"], env["yenvo.bytes"], cause:)
        answer 201, present.panel(sight.task!(id))
      end

      # Makes the paper that the task asks for; with done it is done by the same press.
      post "/:id/fill" do
        task = sight.task!(id)
        may.work!(task, root.schema)
        root.transaction do
          Store::Filling.new(root, now).for_task(task, cause:)
          root.tasks.finish(id, answer: body_of_call["answer"], note: nil, cause:) if body_of_call["done"]
        end
        answer 201, present.panel(sight.task!(id))
      end

      delete "/files/:id" do
        row = of_task!
        may.work!(sight.task!(row[:task_id]), root.schema)
        root.attachments.remove(id, cause:)
        answer 200, present.panel(sight.task!(row[:task_id]))
      end

      # A file is given out to be kept, never to be shown within Yenvo.
      get "/files/:id" do
        task = sight.task!(of_task![:task_id])
        row, path = root.printing.open(id, now:)
        taken_out("took out the file “#{row[:name]}” of the task “#{task[:title]}”", "task #{task[:id]}")
        give_out(row, path)
      end

      private

      # @raise [Store::NotFound] also for a file of a record, and of a task that is hidden
      def of_task!
        row = root.attachments.find!(id)
        task = row[:task_id] && root.task_rows.find!(row[:task_id])
        (task && sight.tasks([task]).any?) ? row : Store::Attachments.missing
      end

      def to = body_of_call.slice(*TO).transform_keys(&:to_sym)

      def several_step(step, id)
        case step
        when "done" then root.tasks.finish(id, note: body_of_call["note"], answer: body_of_call["answer"], cause:)
        when "drop" then root.tasks.drop(id, note: body_of_call["note"], cause:)
        when "put_off" then root.tasks.put_off(id, on: body_of_call["due_on"], at: body_of_call["due_at"], cause:)
        when "priority" then root.tasks.edit(id, body_of_call.slice("priority"), cause:)
        else root.tasks.pass_on(id, cause:, **to)
        end
      end

      def worked
        may.work!(sight.task!(id), root.schema)
        answer 200, present.task(yield)
      end
    end
  end
end
