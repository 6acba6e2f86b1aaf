# frozen_string_literal: true

module Yenvo
  module Store
    # Tasks that wait for whoever caused them: they complete the blanks and send it, or throw it away. Until then there
    # is no task.
    class Proposals < Base
      keeps :proposals

      THROWN = "thrown"
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

      # The same for a message.
      # @param message [Hash] way, destination, content, words and leaves_at
      # @param cause [Journal::Cause] the run
      # @return [Integer] id
      def add_message(person, message, cause, record_id:)
        about = {rule_id: cause.rule, run_id: cause.run, state: "open", at: cause.at}
        insert_all(:proposals, [{person:, record_id:, message: dump(message), **about}])[0]
      end

      # Has the task climb a ladder once it is sent.
      # @param columns [Hash] of the timer, but for the task and when it is due
      def add_ladder(id, columns)
        task = load(table.where(id:).get(:task))
        table.where(id:).update(task: dump(task.merge("ladders" => [*task["ladders"], columns])))
      end

      # @return [Array<Hash>] rows that wait for a person, the oldest first
      def of(person) = table.where(person:, state: "open").order(:id).limit(MOST).all

      # @raise [NotFound] also when it waits for somebody else
      def find!(id, person) =
        table.where(id:, person:).first ||
          raise(NotFound, GONE)
      GONE = "There is no such task to send; it may have been sent or thrown away."

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
          refuse("task", "A message waits here, no task.") unless row[:task]
          form = form(row).merge(given)
          blank = TEXTS.select { |field| form[field.column].to_s.match?(BLANK) }
          wrong = blank.to_h { |field| [field.column, "#{field.label} has a blank still. Fill in what stands as ___."] }
          raise Refused.at(wrong) if wrong.any?

          kept = load(row[:task])
          task = root.tasks.make(form, cause:, from: origin(row, kept))
          climb(task, kept, cause)
          root.attachments.fill(task[:id], kept["paper"], cause:) if kept["paper"]
          table.where(id:).update(state: "sent", settled_at: cause.at, task_id: task[:id])
          task
        end
      end

      # Has the message leave as it was completed.
      # @param given [Hash] subject and text, where they were changed
      # @return [Integer] number of the message
      # @raise [Refused] with what is blank still
      def send_message(id, given, cause:)
        root.transaction do
          row = waiting(id, cause)
          message = load(row[:message]) || refuse("message", "A task waits here, no message.")
          content = message["content"].merge(words_of(message["content"], given))
          delivery = write(message, content, row, cause)
          table.where(id:).update(state: "sent", settled_at: cause.at, delivery_id: delivery)
          delivery
        end
      end

      # Nothing is made.
      def throw_away(id, cause:)
        root.transaction do
          waiting(id, cause)
          table.where(id:).update(state: THROWN, settled_at: cause.at)
        end
      end

      private

      def waiting(id, cause)
        row = table.where(id:, person: cause.who).for_update.first || find!(id, cause.who)
        return row if row[:state] == "open"

        refuse("task", "It was #{(row[:state] == "sent") ? "sent" : "thrown away"} already.")
      end

      # @return [Integer] number of the message
      def write(message, content, row, cause)
        due = [Core::Reading.time(message["leaves_at"]), cause.at].max
        run = cause.with(run: row[:run_id], rule: row[:rule_id], depth: 1)
        record_id = row[:record_id]
        kind = record_id && db[:records].where(id: record_id).get(:kind)
        about = {record_id:, kind:, words: message["words"], place: message["place"]}
        root.outbox.add(message["way"], message["destination"], content, cause: run, due:, **about)
      end

      MOST_TEXT = 20_000
      private_constant :MOST_TEXT

      # @return [Hash{String => String}] what the person wrote, where the message has such
      def words_of(content, given)
        words = content.slice("subject", "text").merge(given.to_h.slice(*content.slice("subject", "text").keys))
        words.each do |key, text|
          name = (key == "text") ? "The text" : "The subject"
          refuse(key, "#{name} takes a few words.") if text.to_s.strip.empty?
          refuse(key, "#{name} has a blank still. Fill in what stands as ___.") if text.match?(BLANK)
          refuse(key, "#{name} takes at most #{Core::Show.count(MOST_TEXT)} characters.") if text.size > MOST_TEXT
        end
      end

      # What the task has besides from the rule that proposed it, as if it had been made at once.
      def origin(row, kept)
        parent =
          kept["parent_id"] ||
          (kept["under_proposal"] && table.where(id: kept["under_proposal"]).get(:task_id))
        {
          run_id: row[:run_id], rule_id: row[:rule_id], parent_id: parent,
          **kept.slice("branch", "action", "log_done", "place").transform_keys(&:to_sym)
        }
      end

      def climb(task, kept, cause)
        ladders = (kept["ladders"] || []).map { |columns| columns.transform_keys(&:to_sym) }
        return if ladders.empty?

        id, since = task[:id], cause.at
        image = root.task_rows.images([id], since)[id]
        rules = root.in_force.of_rows(ladders)
        ladders.each do |columns|
          rule = rules[columns[:version_id]]
          ladder = rule&.action(rule.row_index(columns[:branch]), columns[:action]) or next
          root.timers.add(**columns, purpose: "ladder", task_id: id, due_at: ladder.due(0, image, since:), since:)
        end
      end
    end
  end
end
