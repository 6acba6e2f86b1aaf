# frozen_string_literal: true

module Yenvo
  module Web
    # Open tasks, mine, another's or a queue's; and what was done lately.
    class Worklists < Base
      get "/?" do
        rows = worklist.list(filter, now:, after:)
        answer 200,
          {
            tasks: present.tasks(rows), next: (rows.size == Store::Worklist::PAGE) ? place(rows.last) : nil,
            counts: worklist.counts(person[:key], now:), queues:,
            left: worklist.left_behind.map { |key, open| {key:, open:} }
          }
      end

      # The same as a table, all pages of it.
      get "/table" do
        chosen = filter
        give_table("Tasks", present.task_heads) do |after|
          rows = worklist.list(chosen, now:, after:)
          [present.task_cells(rows), (rows.size == Store::Worklist::PAGE) ? place_of(rows.last) : nil]
        end
      end

      # What the head of every page shows.
      get("/counts") { answer 200, worklist.counts(person[:key], now:) }

      # What comes to a person by itself if nothing changes.
      get "/coming" do
        who = {nil => person[:key], "me" => person[:key]}.fetch(params["who"], params["who"])
        days = (number("days") || 7).clamp(1, 31)
        answer 200,
          {items: present.coming(Engine::Forecast.new(root, now:).to_person(who, till: now + (days * 86_400)))}
      end

      private

      def worklist = @worklist ||= Store::Worklist.new(root, sight)

      def filter
        who = params["who"] || "me"
        assignee = {"me" => person[:key], "all" => nil}.fetch(who, who)
        assignee = "nobody" if params["queue"] && who == "all" && params["taken"].nil?
        said = %w[queue team kind priority due].to_h { |name| [name.to_sym, params[name]] }
        numbers = %w[rule kit record].to_h { |name| [name.to_sym, number(name)] }
        {assignee:, **said, **numbers, state: params["state"] || "open", text: Core::Reading.presence(params["text"])}
      end

      def after
        return unless params["after"]

        moment, id = params["after"].split("_")
        RecordQuery.unknown_place unless NUMBER.match?(id.to_s)
        {"due_at" => Core::Reading.moment(RecordQuery.moment(moment)), "id" => id.to_i}
      end

      def place(row) = place_of(row).values.join("_")

      # @return [Hash] where to go on behind a row
      def place_of(row)
        at = worklist.over?(filter) ? row[:done_at] : row[:due_at]
        {"due_at" => Core::Reading.moment(at), "id" => row[:id]}
      end

      def queues
        counts = worklist.queue_counts(root.schema.queues.keys)
        mine = root.people.queues_of(person)
        root.schema.queues.map do |key, name|
          {key:, name:, open: counts.fetch(key, 0), mine: mine.include?(key)}
        end
      end
    end
  end
end
