# frozen_string_literal: true

module Yenvo
  module Web
    # Queues: how they stand, and the next task from them.
    class Queues < Base
      get("/?") { answer 200, {queues: present.queues(queues.figures(now:))} }

      # From one queue, or from all that are the person's.
      post "/next" do
        mine = root.people.queues_of(person)
        wanted = body_of_call["queue"]
        unless wanted.nil? || mine.include?(wanted) || may.lead?
          raise Forbidden,
            "You take from the queues of your own team. Ask a lead to pass a task of this queue on to you."
        end

        task = queues.take_next(wanted ? [wanted] : mine, cause:)
        answer 200, {task: task && present.task(task)}
      end

      private

      def queues = Store::Queues.new(root, sight)
    end
  end
end
