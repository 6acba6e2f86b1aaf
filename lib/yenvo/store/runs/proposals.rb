# frozen_string_literal: true

module Yenvo
  module Store
    # Tasks that wait for whoever caused them: they complete the blanks and send it, or throw it away. Until then there
    # is no task.
    class Proposals < Base
      MOST = 50
      # A blank that has to be filled in.
      BLANK = /_{3,}/
      TEXTS = Core::Schema::TaskField.of("new").select(&:template?).freeze
      private_constant :TEXTS

      # @param columns [Hash] of the task as it would be made
      # @return [Integer] id
      def add(person, columns, rule_id:, run_id:, at:)
        insert_all(
          :proposals,
          [
            {
              person:, record_id: columns[:record_id], rule_id:, run_id:,
              task: dump(TaskColumns.to_plain(columns)), state: "open", at:
            }
          ]
        )[0]
      end

      # Has the task climb a ladder once it is sent.
      # @param columns [Hash] of the timer, but for the task and when it is due
      def add_ladder(id, columns)
        task = load(db[:proposals].where(id:).get(:task))
        db[:proposals].where(id:).update(task: dump(task.merge("ladders" => [*task["ladders"], columns])))
      end

      # @return [Array<Hash>] rows that wait for a person, the oldest first
      def of(person) = db[:proposals].where(person:, state: "open").order(:id).limit(MOST).all

      # @raise [NotFound] also when it waits for somebody else
      def find!(id, person) =
        db[:proposals].where(id:, person:).first ||
          raise(NotFound, "There is no such task to send; it may have been sent or thrown away.")

      # @return [Hash] the task as it would be, as the form of a task made by hand takes it
      def form(row)
        task = load(row[:task])
        {**TaskColumns.of_kept(task), **task.slice("assignee", "queue", "record_id")}
      end

      # Makes the task as it was completed.
      # @param given [Hash] what the person changed; see Tasks#make
      # @return [Hash] the row of the task
      # @raise [Refused] with what is blank still
      def send_off(id, given, cause:)
        root.transaction do
          row = waiting(id, cause)
          form = form(row).merge(given)
          blank = TEXTS.select { |field| form[field.column].to_s.match?(BLANK) }
          if blank.any?
            said = "has a blank still. Fill in what stands as ___."
            raise Refused.at(blank.to_h { |field| [field.column, "#{field.label} #{said}"] })
          end

          kept = load(row[:task])
          task = root.tasks.make(form, cause:, from: origin(row, kept))
          climb(task, kept, cause)
          root.attachments.fill(task[:id], kept["paper"], cause:) if kept["paper"]
          db[:proposals].where(id:).update(state: "sent", settled_at: cause.at, task_id: task[:id])
          task
        end
      end

      # Nothing is made.
      def throw_away(id, cause:)
        root.transaction do
          waiting(id, cause)
          db[:proposals].where(id:).update(state: "thrown", settled_at: cause.at)
        end
      end

      private

      def waiting(id, cause)
        row = db[:proposals].where(id:, person: cause.who).for_update.first || find!(id, cause.who)
        return row if row[:state] == "open"

        raise Refused.at("task" => "It was #{(row[:state] == "sent") ? "sent" : "thrown away"} already.")
      end

      # What the task has besides from the rule that proposed it, as if it had been made at once.
      def origin(row, kept)
        parent =
          kept["parent_id"] ||
          (kept["under_proposal"] && db[:proposals].where(id: kept["under_proposal"]).get(:task_id))
        {
          run_id: row[:run_id], rule_id: row[:rule_id], parent_id: parent,
          **kept.slice("branch", "action", "log_done", "place").transform_keys(&:to_sym)
        }
      end

      def climb(task, kept, cause)
        return unless kept["ladders"]

        image = root.task_rows.images([task[:id]], cause.at)[task[:id]]
        kept["ladders"].each do |columns|
          rule = root.in_force.compiled([columns["version_id"]])[columns["version_id"]]
          ladder = rule&.action(rule.row_index(columns["branch"]), columns["action"]) or next
          root.timers.add(
            **columns.transform_keys(&:to_sym), purpose: "ladder", task_id: task[:id],
            due_at: ladder.due(0, image, since: cause.at), since: cause.at
          )
        end
      end
    end
  end
end
