# frozen_string_literal: true

module Yenvo
  module Store
    # Tasks: made by hand or by a run, then done, dropped, put off, passed on. Every step stands in the journal.
    class Tasks < TaskSteps
      # So many at once.
      SEVERAL = 500

      # A task made by hand.
      # @param given [Hash{String => Object}] title, text, web_link, way, priority, assignee, queue, due_on, due_at,
      #   start_on, record_id, parent_id
      # @return [Hash] the row
      # @raise [Refused]
      # @param from [Hash] columns that say where it came from, for one that a rule proposed
      def make(given, cause:, from: {})
        row = form.read(given, cause).merge(from)
        root.transaction do
          record = row[:record_id] && root.records.lock(row[:record_id])
          row[:kind] = record && record[:kind]
          form.fits_queue!(*row.values_at(:queue, :kind))
          find!(root.new_tasks.write([NewTasks::New.new(columns: row, cause:)])[0])
        end
      end

      # The same for several persons, one each; all or none.
      # @param also [Array<String>, nil] keys of those who get one besides
      # @return [Array<Hash>] rows
      # @raise [Refused]
      def make_each(given, also, cause:)
        others = Array(also).uniq.map { |person| given.merge("assignee" => person, "queue" => nil, "team" => nil) }
        root.transaction { db.transaction(savepoint: true) { [given, *others].map { |one| make(one, cause:) } } }
      end

      # The row of a task of a plan.
      # @param place [Array(String, Integer)] label of the row and number of the action
      # @param about [Array(String, Integer)] kind and id of its record
      # @param cause [Journal::Cause] of the run
      # @return [Hash]
      def planned_row(task, place:, about:, cause:)
        TaskColumns.of_plan(task).merge!(
          state: "open", open: true, assignee: task.assignee, queue: task.queue,
          team: team_of(task.assignee, task.queue), record_id: about[1], kind: about[0], parent_id: nil,
          run_id: cause.run, rule_id: cause.rule, branch: place[0], action: place[1], made_by: nil, made_at: cause.at,
          kit_id: nil, copy_id: nil, kit_task: nil
        )
      end

      # @param answer [String, nil] one of those it asks for
      # @param note [String, nil]
      # @raise [Refused, Conflict]
      def finish(id, cause:, answer: nil, note: nil)
        step(id, cause) do |task|
          asked = load(task[:answers])
          refuse("answer", "Choose how it went: #{asked.join(", ")}.") if asked.any? && !asked.include?(answer)
          refuse("answer", "This task asks for no answer; leave it out.") if asked.empty? && answer

          took_minutes = calendar.working_minutes(task[:made_at], cause.at)
          log_done(task, answer, note, cause) if task[:log_done]
          ["task_done", {**over("done", note, cause), answer:, took_minutes:}, {answer:, note:, took_minutes:}]
        end
      end

      # @param note [String, nil] why
      def drop(id, cause:, note: nil) = step(id, cause) { ["task_dropped", over("dropped", note, cause), {note:}] }

      # Says that it was begun, that it waits for something, or that it is simply open again.
      # @param state [String] one of OPEN
      def set_state(id, state, cause:, note: nil)
        raise Refused.at("state" => "The state is one of #{OPEN.join(", ")}.") unless OPEN.include?(state)

        step(id, cause) { ["task_changed", {state:}, {state:, note:}] }
      end

      # Changes what a task says: title, text, web link, way, priority, start, reminder, due date, place and the answers
      # it asks for.
      # @param given [Hash{String => Object}] those that change
      def edit(id, given, cause:)
        step(id, cause) do |task|
          changes = form.edits(given, task).reject { |name, value| task[name] == value }
          changes[:redated] = true if task[:copy_id] && changes.key?(:due_on)
          detail = {priority: changes[:priority] && PRIORITIES[changes[:priority]], edited: changes.keys}
          detail.update(due_on: changes[:due_on]&.iso8601, due_was: task[:due_on]&.iso8601) if changes.key?(:due_on)
          ["task_changed", changes, detail]
        end
      end

      # Opens a task again that is over.
      # @raise [Refused]
      def reopen(id, cause:)
        root.transaction do
          task = lock!(id)
          refuse("task", "This task is open already.") if task[:open]
          root.happened.task_reopens(task, cause)
          changes = {**OPENED, state: "open", answer: nil, took_minutes: nil}
          write("task_changed", task, changes, cause, changed: ["state"], state: "open", reopened: true)
            .tap { |after| tell_of(after, cause) }
        end
      end

      # Gives a task back to the queue it was taken from.
      def give_back(id, cause:)
        step(id, cause) do |task|
          queue, was = task.values_at(:queue, :assignee)
          unless was && schema.queues.key?(queue)
            refuse("task", "This task was taken from no queue that there is. Pass it on to somebody instead.")
          end

          ["task_changed", {assignee: nil, team: team_of(nil, queue)}, {assignee: nil, queue:, was:}]
        end
      end

      # One step for several tasks. Each stands for itself: what one is refused, the others are not.
      # @param ids [Array<Integer>]
      # @yieldparam id [Integer]
      # @yieldreturn [Hash] the row after it
      # @return [Array(Array<Hash>, Array<Hash>)] rows after it, and what was refused: id, title, why
      def several(ids)
        done = []
        refused = []
        ids.uniq.sort.each do |id|
          done << db.transaction(savepoint: true) { yield(id) }
        rescue Refused, Conflict, NotFound => error
          refused << {
            id:, title: (title(id)&.fetch(:title) unless error.is_a?(NotFound)) || "a task that is gone",
            why: error.is_a?(Refused) ? error.fields.values.uniq.join(" ") : error.message
          }
        end
        [done, refused]
      end

      # Moves the due date.
      # @param on [String] ISO date
      # @param at [String, nil] wall clock, such as "09:00"
      def put_off(id, on:, cause:, at: nil)
        step(id, cause) do |task|
          date = form.date(on) || refuse("due_on", "Choose the day to put it off to.")
          columns = due_columns(date, form.time(at)).merge(redated: !task[:copy_id].nil?)
          ["task_changed", columns, {due_on: date.iso8601, due_at: at, due_was: task[:due_on]&.iso8601}]
        end
      end

      # Gives it to somebody else, or to a queue.
      # @param team, team_way [String, nil] somebody of a team: "turns" or "load"
      # @param quiet [Boolean] whether whoever gets it is told in another way
      def pass_on(id, cause:, quiet: false, **given)
        step(id, cause) do |task|
          to = form.assignee({**given.transform_keys(&:to_s), "now" => cause.at}, nil, form.whose(task[:record_id]))
          form.fits_queue!(to[:queue], task[:kind])
          tell_of(task.merge(to), cause, passed: true) unless quiet || to[:assignee] == task[:assignee]
          ["task_changed", to, {**to.slice(:assignee, :queue), was: task[:assignee] || task[:queue]}]
        end
      end

      # Takes a task from a queue; two never take the same one.
      def take(id, cause:)
        step(id, cause) do |task|
          taken = task[:assignee] && schema.name_of(task[:assignee])
          raise Conflict.new("#{taken} has taken this task already. Take the next.", conflicts: []) if taken

          who, queue = cause.who, task[:queue]
          ["task_changed", {assignee: who, team: team_of(who, nil)}, {assignee: who, queue:, was: queue}]
        end
      end

      # Takes back the last step of a task, by whoever made it, when nothing has happened to it since. What rules did
      # about it stays, and the trail can undo that.
      # @return [Hash] the row
      # @raise [Refused, NotFound]
      def take_back(id, cause:)
        root.transaction do
          task = lock!(id)
          last = db[:journal].where(task_id: id).reverse(:id).first
          check_take_back(task, last, cause)
          root.happened.task_reopens(task, cause) unless task[:open]
          changes = {**TaskColumns.from_plain(load(last[:before])), late_noted: false}
          write("task_changed", task, changes, cause, taken_back: last[:what])
        end
      end

      # Tasks whose due moment has passed get an entry in the journal, once for each due date.
      # @return [Integer] how many
      def note_late(now:, limit: 50)
        noting(late_at(now), :due_at, {late_noted: true}, limit) do |rows|
          cause = Journal::Cause.house(now)
          watched = rows.select { |row| row[:record_id] || root.in_force.looks_at_task?(nil, "task_late") }
          root.journal.add_all(watched.map { |row| ["task_late", cause, late_entry(row, now)] })
          root.told.late(rows, now:)
        end
      end

      # Tells of tasks whose reminder has come, each once.
      # @return [Integer] how many
      def remind(now:, limit: 50)
        noting(to_remind_at(now), :remind_at, {reminded: true}, limit) { |rows| root.told.reminders(rows, now:) }
      end

      private

      # Marks the first of some tasks as seen to, and sees to them.
      # @param due [Sequel::Dataset]
      # @param mark [Hash] column that says so
      # @return [Integer] how many
      def noting(due, order, mark, limit)
        return 0 if due.empty?

        root.transaction do
          rows = due.order(order, :id).limit(limit).for_update.skip_locked.all
          table.where(id: rows.map { |row| row[:id] }).update(mark)
          yield rows if rows.any?
          rows.size
        end
      end

      def late_entry(row, now) =
        {task_id: row[:id], **row.slice(:record_id, :kind), detail: {title: row[:title], task: seen(row, now)}}

      # What a task is that is over.
      def over(state, note, cause) =
        {state:, open: false, note: form.text("note", "Note", note), done_at: cause.at, done_by: cause.who}

      def form = @form ||= TaskForm.new(root)

      def step(id, cause)
        root.transaction do
          task = lock!(id)
          unless task[:open]
            who = schema.name_of(task[:done_by])
            raise Conflict.new("This task was #{task[:state]} by #{who} already. Nothing was changed.", conflicts: [])
          end

          what, changes, detail = yield(task)
          before = TaskColumns.to_plain(task.slice(*changes.keys))
          write(what, task, changes, cause, before:, assignee: task[:assignee], **detail)
        end
      end

      # How the task was answered is logged as an interaction of its way.
      WAYS_LOGGED = {"call" => "call", "email" => "email", "letter" => "letter", "visit" => "meeting"}.freeze
      private_constant :WAYS_LOGGED

      def log_done(task, answer, note, cause)
        return unless task[:record_id]

        root.interactions.log(
          task[:record_id], WAYS_LOGGED.fetch(task[:way], "note"),
          [[task[:title], answer].compact.join(": "), note].compact.join("\n"), cause:
        )
      end

      def check_take_back(task, last, cause)
        mine = last && last[:who] == cause.who
        return if mine && last[:before] && STEPS.include?(last[:what])

        title = "“#{task[:title]}”"
        refuse("task", "There is no step of yours to take back in #{title}.") if mine || last.nil?
        who = schema.name_of(last[:who])
        refuse("task", "#{who} has changed #{title} since, so your last step cannot be taken back.")
      end
      STEPS = %w[task_changed task_done task_dropped].freeze
      private_constant :STEPS

      CHANGES = {
        "assignee" => %i[assignee queue], "due" => %i[due_on due_minutes], "priority" => %i[priority],
        "state" => %i[state]
      }.freeze
      private_constant :CHANGES
    end
  end
end
