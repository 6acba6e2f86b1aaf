# frozen_string_literal: true

module Yenvo
  module Store
    # Tasks that wait for whoever caused them: they complete the blanks and send it, or throw it away. Until then there is no
    # task.
    class Proposals < Part
      MOST = 50
      # A blank that has to be filled in.
      BLANK = /_{3,}/

      # @param columns [Hash] of the task as it would be made
      # @return [Integer] id
      def add(person, columns, rule_id:, run_id:, at:)
        insert_all(:proposals, [{person: person, record_id: columns[:record_id], rule_id: rule_id, run_id: run_id, task: dump(columns.transform_values { |value| plain(value) }), state: "open", at: at}])[0]
      end

      # @return [Array<Hash>] rows that wait for a person, the oldest first
      def of(person) = db[:proposals].where(person: person, state: "open").order(:id).limit(MOST).all

      # @raise [NotFound] also when it waits for somebody else
      def find!(id, person) = db[:proposals].where(id: id, person: person).first || raise(NotFound, "There is no such task to send; it may have been sent or thrown away.")

      # @return [Hash] the task as it would be, as the form of a task made by hand takes it
      def form(row)
        task = load(row[:task])
        {"title" => task["title"], "text" => task["text"], "web_link" => task["web_link"], "way" => task["way"], "priority" => Tasks::PRIORITIES[task["priority"]], "assignee" => task["assignee"], "queue" => task["queue"],
         "due_on" => task["due_on"], "due_at" => task["due_minutes"] && Core::ClockTime.show(task["due_minutes"]), "start_on" => task["start_on"], "record_id" => task["record_id"]}
      end

      # Makes the task as it was completed.
      # @param given [Hash] what the person changed; see Tasks#make
      # @return [Hash] the row of the task
      # @raise [Refused] with what is blank still
      def send(id, given, cause:)
        root.transaction do
          row = waiting(id, cause)
          form = form(row).merge(given)
          wrong = {"title" => "Title", "text" => "Text"}.filter_map { |key, label| [key, "#{label} has a blank still. Fill in what stands as ___."] if form[key].to_s.match?(BLANK) }.to_h
          raise Refused.at(wrong) if wrong.any?

          kept = load(row[:task])
          task = root.tasks.make(form, cause: cause, from: {run_id: row[:run_id], rule_id: row[:rule_id], branch: kept["branch"], action: kept["action"], answers: kept["answers"], log_done: kept["log_done"]})
          root.attachments.fill(task[:id], kept["paper"], cause: cause) if kept["paper"]
          db[:proposals].where(id: id).update(state: "sent", settled_at: cause.at, task_id: task[:id])
          task
        end
      end

      # Nothing is made.
      def throw_away(id, cause:)
        root.transaction do
          waiting(id, cause)
          db[:proposals].where(id: id).update(state: "thrown", settled_at: cause.at)
        end
      end

      private

      def waiting(id, cause)
        row = db[:proposals].where(id: id, person: cause.who).for_update.first || find!(id, cause.who)
        return row if row[:state] == "open"

        raise Refused.at("task" => "It was #{(row[:state] == "sent") ? "sent" : "thrown away"} already.")
      end

      def plain(value)
        case value
        when Time then Core::Reading.moment(value)
        when Date then value.iso8601
        else value
        end
      end
    end
  end
end
