# frozen_string_literal: true

module Yenvo
  module Web
    # Open tasks, mine, another's or a queue's; and what was done lately.
    class Worklists < Base
      DONE_DAYS = 14

      get "/?" do
        who = params["who"] || "me"
        assignee = {"me" => person[:key], "all" => nil}.fetch(who, who)
        rows = (params["state"] == "done") ? done(assignee) : due(assignee)
        answer 200, {tasks: present.tasks(rows), next: (rows.size == Store::Worklist::PAGE) ? place(rows.last) : nil,
                     counts: root.worklist.counts(person[:key], now: now), queues: queues}
      end

      private

      def due(assignee) = root.worklist.open(assignee: assignee, queue: params["queue"], rule: number("rule"), after: after)

      def done(assignee) = root.worklist.done(assignee: assignee || person[:key], since: now - (DONE_DAYS * 86_400))

      def after
        return unless params["after"]

        moment, id = params["after"].split("_")
        {"due_at" => Core::Reading.moment(RecordQuery.moment(moment)), "id" => Integer(id, 10)}
      rescue ArgumentError, TypeError
        RecordQuery.unknown_place
      end

      def place(row) = "#{Core::Reading.moment(row[:due_at])}_#{row[:id]}"

      def queues
        counts = root.worklist.queue_counts(root.schema.queues.keys)
        mine = root.people.queues_of(person)
        root.schema.queues.map { |key, name| {key: key, name: name, open: counts.fetch(key, 0), mine: mine.include?(key)} }
      end
    end
  end
end
