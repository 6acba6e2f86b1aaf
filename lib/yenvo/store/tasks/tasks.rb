# frozen_string_literal: true

module Yenvo
  module Store
    # Tasks: made by hand or by a run, then done, dropped, put off, passed on. Every step stands in the journal.
    class Tasks < TaskRows
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
        TaskColumns.of_plan(task).merge(
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
          if asked.any? && !asked.include?(answer)
            raise Refused.at("answer" => "Choose how it went: #{asked.join(", ")}.")
          end
          raise Refused.at("answer" => "This task asks for no answer; leave it out.") if asked.empty? && answer

          took = root.calendar.working_minutes(task[:made_at], cause.at)
          log_done(task, answer, note, cause) if task[:log_done]
          [
            "task_done",
            {
              state: "done", open: false, answer:, note: form.text("note", "Note", note), done_at: cause.at,
              done_by: cause.who, took_minutes: took
            },
            {answer:, note:, took_minutes: took}
          ]
        end
      end

      # @param note [String, nil] why
      def drop(id, cause:, note: nil)
        step(id, cause) do
          [
            "task_dropped",
            {
              state: "dropped", open: false, note: form.text("note", "Note", note), done_at: cause.at,
              done_by: cause.who
            },
            {note:}
          ]
        end
      end

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
          [
            "task_changed", changes,
            {
              due_on: changes[:due_on]&.iso8601, due_was: changes.key?(:due_on) ? task[:due_on]&.iso8601 : nil,
              priority: changes[:priority] && PRIORITIES[changes[:priority]], edited: changes.keys
            }
          ]
        end
      end

      # Opens a task again that is over.
      # @raise [Refused]
      def reopen(id, cause:)
        root.transaction do
          task =
            db[:tasks].where(id:).for_update.first ||
            raise(NotFound, "There is no task #{id}; it may have been removed.")
          raise Refused.at("task" => "This task is open already.") if task[:open]

          root.happened.task_reopens(task, cause)
          changes = {state: "open", open: true, answer: nil, done_at: nil, done_by: nil, took_minutes: nil}
          db[:tasks].where(id:).update(**changes, late_noted: false, version: task[:version] + 1)
          after = find!(id)
          log(
            "task_changed", task, after, cause,
            {title: task[:title], changed: ["state"], state: "open", reopened: true}
          )
          root.told.given([Told::Given.new(row: after, cause:, from: nil)])
          after
        end
      end

      # Gives a task back to the queue it was taken from.
      def give_back(id, cause:)
        step(id, cause) do |task|
          unless task[:queue] && task[:assignee]
            raise Refused.at("task" => "This task was taken from no queue. Pass it on to somebody instead.")
          end

          [
            "task_changed", {assignee: nil, team: team_of(nil, task[:queue])},
            {assignee: nil, queue: task[:queue], was: task[:assignee]}
          ]
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
            id:, title: title(id)&.fetch(:title) || "a task that is gone",
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
          date = form.date(on) || raise(Refused.at("due_on" => "Choose the day to put it off to."))
          [
            "task_changed", due_columns(date, form.time(at)).merge(redated: !task[:copy_id].nil?),
            {due_on: date.iso8601, due_at: at, due_was: task[:due_on]&.iso8601}
          ]
        end
      end

      # Gives it to somebody else, or to a queue.
      # @param team, team_way [String, nil] somebody of a team: "turns" or "load"
      def pass_on(id, cause:, assignee: nil, queue: nil, team: nil, team_way: nil)
        step(id, cause) do |task|
          to =
            form.assignee(
              {"assignee" => assignee, "queue" => queue, "team" => team, "team_way" => team_way, "now" => cause.at}, nil
            )
          unless to[:assignee] == task[:assignee]
            root.told.given([Told::Given.new(row: task.merge(to), cause:, from: nil, passed: true)])
          end
          ["task_changed", to, {assignee: to[:assignee], queue: to[:queue], was: task[:assignee] || task[:queue]}]
        end
      end

      # Takes a task from a queue; two never take the same one.
      def take(id, cause:)
        step(id, cause) do |task|
          if task[:assignee]
            raise Conflict.new(
              "#{root.schema.name_of(task[:assignee])} has taken this task already. Take the next.", conflicts: []
            )
          end

          [
            "task_changed", {assignee: cause.who, team: team_of(cause.who, nil)},
            {assignee: cause.who, queue: task[:queue], was: task[:queue]}
          ]
        end
      end

      # Takes back the last step of a task, by whoever made it, when nothing has happened to it since. What rules did
      # about it stays, and the trail can undo that.
      # @return [Hash] the row
      # @raise [Refused, NotFound]
      def take_back(id, cause:)
        root.transaction do
          task =
            db[:tasks].where(id:).for_update.first ||
            raise(NotFound, "There is no task #{id}; it may have been removed.")
          last = db[:journal].where(task_id: id).reverse(:id).first
          check_take_back(task, last, cause)
          root.happened.task_reopens(task, cause) unless task[:open]
          db[:tasks].where(id:).update(
            **TaskColumns.from_plain(load(last[:before])), late_noted: false, version: task[:version] + 1
          )
          after = find!(id)
          log(
            "task_changed", task, after, cause,
            {title: task[:title], taken_back: last[:what], changed: changed(task, after)}
          )
          after
        end
      end

      # What a rule changes in an open task: priority, due date, assignee or queue, state.
      # @param task [Hash] row
      # @param wanted [Hash] priority, due (Core::Due), assignee, queue, state, note
      # @return [Hash, nil] id, from and to, for taking it back; nil when it is as wanted already
      def change_by_rule(task, wanted, cause:)
        to = columns_of(wanted, task, cause).reject { |name, value| task[name] == value }
        return if to.empty?

        from = task.slice(*to.keys)
        db[:tasks].where(id: task[:id]).update(**to, **late_again(to), version: task[:version] + 1)
        after = find!(task[:id])
        what = {"done" => "task_done", "dropped" => "task_dropped"}.fetch(to[:state], "task_changed")
        log(
          what, task, after, cause,
          {
            title: task[:title], changed: changed(task, after), assignee: to[:assignee] || task[:assignee],
            priority: to[:priority] && PRIORITIES[to[:priority]], due_on: to[:due_on]&.iso8601, state: to[:state],
            note: to[:note]
          }
        )
        passed_on(after, cause) if to[:assignee]
        moved = {"from" => TaskColumns.to_plain(from), "to" => TaskColumns.to_plain(to)}
        {"id" => task[:id], **moved, "version" => task[:version] + 1}
      end

      # Puts back what a rule changed, when nobody has touched the task since.
      # @param did [Hash] as +change_by_rule+ gave it
      # @param version [Integer] that the task has when nobody has touched it
      # @return [Integer, nil] the version that it has then; nil when somebody has
      def put_back(did, cause:, version: did["version"])
        task = db[:tasks].where(id: did["id"], version:).for_update.first or return

        db[:tasks].where(id: did["id"]).update(**TaskColumns.from_plain(did["from"]), version: version + 1)
        log("task_changed", task, find!(task[:id]), cause, {title: task[:title], undone: true})
        version + 1
      end

      # Opens a task again that was dropped with its record, unless somebody has touched it since.
      # @param kept [Hash] id, state before and version after the drop
      def reopen_as(kept, cause:)
        task = db[:tasks].where(id: kept["id"], open: false, version: kept["version"]).for_update.first or return
        db[:tasks].where(id: task[:id]).update(
          state: kept["state"], open: true, note: nil, done_at: nil, done_by: nil, late_noted: false,
          version: task[:version] + 1
        )
        after = find!(task[:id])
        log(
          "task_changed", task, after, cause,
          {title: task[:title], changed: changed(task, after), state: kept["state"]}
        )
      end

      # Tasks whose due moment has passed get an entry in the journal, once for each due date.
      # @return [Integer] how many
      def note_late(now:, limit: 50)
        late = late_at(now)
        return 0 if late.empty?

        root.transaction do
          rows = late.order(:due_at).limit(limit).for_update.skip_locked.all
          next 0 if rows.empty?

          db[:tasks].where(id: rows.map { |row| row[:id] }).update(late_noted: true)
          cause = Journal::Cause.house(now)
          watched = rows.select { |row| row[:record_id] || root.in_force.looks_at_task?(nil, "task_late") }
          root.journal.add_all(watched.map { |row| ["task_late", cause, late_entry(row, now)] })
          rows.size
        end
      end

      # Tells of tasks whose reminder has come, each once.
      # @return [Integer] how many
      def remind(now:, limit: 50)
        due = to_remind_at(now)
        return 0 if due.empty?

        root.transaction do
          rows = due.order(:remind_at).limit(limit).for_update.skip_locked.all
          next 0 if rows.empty?

          db[:tasks].where(id: rows.map { |row| row[:id] }).update(reminded: true)
          root.told.reminders(rows, now:)
          rows.size
        end
      end

      # Tasks that belong to no kit any more.
      def leave_kit(ids) = db[:tasks].where(id: ids).update(copy_id: nil, kit_task: nil)

      # Notes which record was opened for a task.
      def note_opened(id, record_id) = db[:tasks].where(id:).update(opened_id: record_id)

      # Gives a task of a kit other dates, since what they count from has moved.
      # @param row [Hash]
      def redate(row, columns, cause:, why:)
        db[:tasks].where(id: row[:id]).update(**columns, **late_again(columns), version: row[:version] + 1)
        after = find!(row[:id])
        log(
          "task_changed", row, after, cause,
          {
            title: row[:title], changed: changed(row, after), due_on: after[:due_on]&.iso8601,
            due_was: row[:due_on]&.iso8601, moved_with: why
          }
        )
      end

      private

      def late_entry(row, now) =
        {task_id: row[:id], **row.slice(:record_id, :kind), detail: {title: row[:title], task: seen(row, now)}}

      def passed_on(row, cause)
        from = root.rules.names([cause.rule])[cause.rule] if cause.rule
        root.told.given([Told::Given.new(row:, cause:, from:, passed: true)])
      end

      def form = @form ||= TaskForm.new(root)

      def step(id, cause)
        root.transaction do
          task =
            db[:tasks].where(id:).for_update.first ||
            raise(NotFound, "There is no task #{id}; it may have been removed.")
          unless task[:open]
            raise Conflict.new(
              "This task was #{task[:state]} by #{root.schema.name_of(task[:done_by])} already. Nothing was changed.",
              conflicts: []
            )
          end

          what, changes, detail = yield(task)
          db[:tasks].where(id:).update(**changes, **late_again(changes), version: task[:version] + 1)
          after = find!(id)
          log(
            what, task, after, cause,
            {title: task[:title], assignee: task[:assignee], changed: changed(task, after)}.merge(detail),
            before: TaskColumns.to_plain(task.slice(*changes.keys))
          )
          after
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
        if last && last[:before] && last[:who] == cause.who &&
            %w[task_changed task_done task_dropped].include?(last[:what])
          return
        end

        who = last && last[:who] != cause.who && root.schema.name_of(last[:who])
        raise Refused.at(
                "task" =>
                  (
                    if who
                      "#{who} has changed “#{task[:title]}” since, so your last step cannot be taken back."
                    else
                      "There is no step of yours to take back in “#{task[:title]}”."
                    end
                  )
              )
      end

      # A new due date may pass anew, and a new reminder is told anew.
      def late_again(changes) =
        {**(changes.key?(:due_at) ? {late_noted: false} : {}), **(changes.key?(:remind_at) ? {reminded: false} : {})}

      CHANGES = {
        "assignee" => %i[assignee queue], "due" => %i[due_on due_minutes], "priority" => %i[priority],
        "state" => %i[state]
      }.freeze
      private_constant :CHANGES

      # @return [Array<String>] what of a task differs, in the words of the trigger
      def changed(before, after) =
        CHANGES.filter_map { |name, columns| name if columns.any? { |column| before[column] != after[column] } }

      # @param earlier [Hash] row before the step
      # @param task [Hash] row after it
      def log(what, earlier, task, cause, detail, before: nil)
        record = task[:record_id] && root.records.lock(task[:record_id])
        detail = detail.compact.merge(seen_step(earlier, task, cause))
        root.happened.task_changed(task, detail[:changed], cause)
        root.journal.add(
          what, cause, task_id: task[:id], record_id: record && record[:id], kind: record && record[:kind],
          before:, detail:
        )
        root.happened.tasks_touched([[record[:kind], record[:id]]], cause.at) if record
      end

      # The task after a step, and what it was before where it differs, as rules see it.
      def seen_step(earlier, task, cause)
        was, now = [earlier, task].map { |row| seen(row, cause.at) }
        changed = (was.keys | now.keys).reject { |key| was[key] == now[key] }
        {task: now, task_was: changed.to_h { |key| [key, was[key]] }}
      end

      def columns_of(wanted, task, cause)
        to = {}
        %w[priority due].each do |name|
          value = wanted[name.to_sym] and to.merge!(TaskColumns.written(Core::Schema::TaskField[name], value))
        end
        who = wanted.to_h.slice(:assignee, :queue)
        to.merge!(who, team: team_of(*who.values)) if who.values.any?
        to.merge(state_columns(wanted, task, cause))
      end

      def state_columns(wanted, task, cause)
        return {} unless wanted.state
        return {state: wanted.state} if wanted.state == "started"

        took = (root.calendar.working_minutes(task[:made_at], cause.at) if wanted.state == "done")
        {state: wanted.state, open: false, note: wanted.note, done_at: cause.at, done_by: nil, took_minutes: took}
      end
    end
  end
end
