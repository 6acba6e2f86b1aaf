# frozen_string_literal: true

module Yenvo
  module Store
    # Kits in use on records. Which tasks come, and when one is not needed any more, the core says
    # (Core::Kits::Progress); here it is looked up what there is, and written what comes of it.
    class Copies < CopyRows
      # Begins a kit on a record, by hand or where a run could not plan it beforehand.
      # @param kit [Core::Kits::CompiledKit]
      # @param anchor [Date, Time, nil] from which it counts; by its own field or the moment when not given
      # @param task [Integer, nil] the task that opened the record
      # @return [Hash] the row of the copy
      # @raise [Refused, Core::Error]
      def begin(kit, record_id, cause:, anchor: nil, task: nil)
        root.transaction do
          record = root.records.lock(record_id)
          name, title = "“#{kit.kit.name}”", "“#{record[:title]}”"
          refuse("kit", "#{name} is for a #{kit.kind.noun}; #{title} is none.") unless record[:kind] == kit.kind.key
          if taken([[record_id, kit.id]]).any?
            refuse("kit", "#{name} is in use on #{title} already. Finish or stop it first.")
          end

          desk = root.desks.open(now: cause.at)
          facts = facts(record, kit, cause, desk)
          anchor ||= kit.anchor(facts, now: cause.at)
          tasks = kit.come(kit.at_start, facts, now: cause.at, anchor:)
          copy = begin_planned(kit, tasks, record_id, anchor:, cause:, task:)
          root.desks.settle(desk)
          find!(copy[:id])
        end
      end

      # @return [Hash] a row for a copy that begins
      def copy_row(kit, record_id, anchor, cause)
        {
          kit_id: kit.id, version_id: kit.version_id, record_id:, kind: kit.kind.key, state: "running",
          anchor: anchor.is_a?(Time) ? anchor : nil, anchor_on: anchor.is_a?(Date) ? anchor : nil,
          anchor_field: kit.kit.field? ? kit.kit.from : nil, passed: "[]", run_id: cause.run, rule_id: cause.rule,
          begun_by: cause.who, begun_at: cause.at
        }
      end

      # Begins a kit whose first tasks are planned already.
      # @param tasks [Array<Core::PlannedTask>]
      # @return [Hash] the row
      def begin_planned(kit, tasks, record_id, anchor:, cause:, task: nil)
        copy = {**copy_row(kit, record_id, anchor, cause), task_id: task}
        copy[:id] = insert_all(:kit_copies, [copy])[0]
        log("kit_begun", copy, cause, name: kit.kit.name)
        add(copy, kit, tasks, cause)
        copy
      end

      # Begins many that are planned, whose tasks open no records, by two inserts.
      # @param begun [Array<Array(Core::Effects::BeginKit, Integer, Journal::Cause)>] each with its record
      # @return [Array<NewTasks::New>] their first tasks, which are still to be written
      def begin_all(begun)
        rows = begun.map { |step, record, cause| copy_row(step.kit, record, step.anchor, cause) }
        insert_all(:kit_copies, rows).zip(rows) { |id, row| row[:id] = id }
        all = rows.zip(begun)
        root.journal.add_all(all.map { |row, (step, _, cause)| entry("kit_begun", row, step.kit.kit.name, cause, {}) })
        all.flat_map { |row, (step, _, cause)| step.tasks.map { |task| new_task(task, row, step.kit, cause) } }
      end

      # Goes on with the copies whose tasks or target something has happened to.
      # @param entries [Array<Hash>] rows of the journal
      def go_on(entries, now:)
        over = entries.select { |entry| %w[task_done task_dropped].include?(entry[:what]) }
        step_all(over, now) if over.any?
        moved = entries.select { |entry| entry[:what] == "record_changed" }
        root.copy_dates.follow_all(moved, now) if moved.any?
      end

      # Lets a task be passed over, whether it has come or not, as if it were done without an answer.
      # @param key [String]
      # @raise [Refused]
      def skip(id, key, cause:)
        change(id, cause) do |found|
          state = state_of(found.copy)
          kit = state.kit.kit
          refuse("task", "There is no such task in this kit.") unless kit.task(key)
          at = state.progress.of(key)
          refuse("task", "That task is #{(at == :over) ? "over already" : "not needed any more"}.") if OVER.include?(at)

          pass_over(state, [key, *kit.parts(key).map(&:key)], cause)
          log("kit_passed", state.copy, cause, {"task" => state.title_of(key, schema)}, name: kit.name)
          step(reread(state), cause)
        end
      end
      OVER = %i[over not_needed].freeze
      NOT_RUNNING = {"done" => "is finished already", "resting" => "rests, since its record was taken away"}.freeze
      private_constant :OVER, :NOT_RUNNING

      # Stops a copy: its open tasks are dropped, and no more come.
      def stop(id, cause:)
        change(id, cause) do |state|
          table.where(id:).update(state: "stopped", ended_at: cause.at)
          drop(state.open, "The kit was stopped.", cause)
          log("kit_stopped", state.copy, cause)
        end
      end

      # Kits of a record that is taken away rest: nothing comes of them, and they are not over.
      # @return [Array<Integer>] ids
      def rest(record_id, cause:)
        ids = table.where(record_id:, state: "running").order(:id).for_update.select_map(:id)
        table.where(id: ids).update(state: "resting", ended_at: cause.at)
        ids
      end

      # They go on with the record that is back.
      # @param ids [Array<Integer>]
      def wake(ids) = table.where(id: ids, state: "resting").update(state: "running", ended_at: nil)

      # What would become of a copy if it went on by another version: titles of tasks that stay, that would be dropped,
      # that would come at once, and that would get another due date.
      # @return [Hash{Symbol => Array<String>}]
      def preview_move(id, version_id, now:)
        state = as_it_is(find!(id))
        other = root.kits.compiled(version_id) || refuse("version", "That version does not fit the set-up any more.")
        known = ->(row) { other.kit.task(row[:kit_task]) }
        stay, go = state.open.partition(&known).map { |rows| column(rows, :title) }
        moved = state.with(kit: other, tasks: state.tasks.select(&known))
        dated =
          root.copy_dates.redates(moved, now).map do |row, columns|
            "#{row[:title]}: #{day(row[:due_on])} becomes #{day(columns.fetch(:due_on, row[:due_on]))}"
          end
        {stay:, go:, come: moved.progress.due.map { |key| other.kit.task(key).title }, dated:}
      end

      # Moves a copy to another version of its kit, as +preview_move+ says.
      def move(id, version_id, cause:)
        change(id, cause) do |state|
          other = root.kits.compiled(version_id)
          unless other && other.id == state.copy[:kit_id]
            refuse("version", "That is no version of this kit that still fits the set-up.")
          end

          kit, number = other.kit, other.number
          table.where(id:).update(version_id:, anchor_field: kit.field? ? kit.from : nil)
          gone = state.open.reject { |row| kit.task(row[:kit_task]) }
          drop(gone, "Version #{number} of the kit has no such task.", cause)
          log("kit_moved_on", state.copy, cause, {"version" => number}, name: kit.name)
          state = reread(state)
          root.copy_dates.redate(state, cause, "version #{number} of the kit")
          step(state, cause)
        end
      end

      # Takes back what the end of a task set off: tasks that came after it and that nobody has touched.
      # @param task [Hash] row, over
      # @raise [Refused] when something that came after it was worked on
      def task_reopens(task, cause)
        return unless task[:copy_id]

        copy = table.where(id: task[:copy_id]).for_update.first
        later = came_after(task, state_of(copy))
        touched = later.find { |row| !row[:open] || row[:version] > 1 }
        if touched
          refuse(
            "task", "“#{touched[:title]}”, which came after it, has been worked on since, so it cannot be taken back."
          )
        end

        drop(later, "What it came after was taken back.", cause)
        root.tasks_by_rule.leave_kit(column(later, :id))
        table.where(id: copy[:id]).update(state: "running", ended_at: nil) unless copy[:state] == "stopped"
      end

      # Writes the tasks of a copy that come, with their entries, and opens the records that they open.
      # @param planned [Array<Core::PlannedTask>]
      def add(copy, kit, planned, cause)
        ids = root.new_tasks.write(under_parents(copy, planned.map { |task| new_task(task, copy, kit, cause) }))
        planned.zip(ids).each { |task, id| open_record(task, id, copy, kit, cause) if task.opens }
        # Where a task has come, there is something left to do.
        finish_if_over(copy, kit, cause) if ids.empty?
      end

      private

      # Open ones are dropped; those that have not come yet never do.
      # @return [Array<Hash>] rows of the tasks that came because a task ended
      def came_after(task, state)
        kit = state.kit.kit
        state.tasks.select do |row|
          row[:made_at] >= task[:done_at] && row[:id] != task[:id] &&
            kit.task(row[:kit_task]).after.flatten.any? { |step| step.task == task[:kit_task] }
        end
      end

      def drop(rows, why, cause) = rows.each { |row| root.tasks.drop(row[:id], note: why, cause:) }

      # Open ones are dropped; those that have not come yet never do.
      def pass_over(state, keys, cause)
        drop(state.open.select { |row| keys.include?(row[:kit_task]) }, "Skipped in the kit.", cause)
        ahead = keys.select { |key| %i[due waiting].include?(state.progress.of(key)) }
        passed = dump(load(state.copy[:passed]) | ahead)
        table.where(id: state.copy[:id]).update(passed:) if ahead.any?
      end

      def new_task(task, copy, kit, cause)
        key = task.kit_task
        behind = cause.with(run: copy[:run_id], rule: copy[:rule_id])
        about = copy.values_at(:kind, :record_id)
        columns = root.tasks.planned_row(task, place: [nil, kit.kit.number(key)], about:, cause: behind)
        NewTasks::New.new(
          columns: {**columns, kit_id: kit.id, copy_id: copy[:id], kit_task: key}, cause:, from: {kit: kit.kit.name},
          paper: task.paper, key: [copy[:id], key], under: task.under && [copy[:id], task.under]
        )
      end

      # Parts whose task has come before stand under that.
      def under_parents(copy, wanted)
        late = wanted.select { |new| new.under && wanted.none? { |one| one.key == new.under } }
        return wanted if late.empty?

        rows = root.task_rows.of_copies(copy[:id]).where(kit_task: late.map { |new| new.under[1] }).reverse(:id).all
        ids = rows.to_h { |row| [row[:kit_task], row[:id]] }
        late.each { |new| new.columns[:parent_id] = ids[new.under[1]] }
        wanted
      end

      def change(id, cause)
        root.transaction do
          copy = table.where(id:).for_update.first || find!(id)
          unless copy[:state] == "running"
            refuse("kit", "This use of the kit #{NOT_RUNNING.fetch(copy[:state], "is stopped already")}.")
          end

          yield as_it_is(copy)
          find!(id)
        end
      end

      def step_all(entries, now)
        tasks = root.task_rows.copies_of(entries.filter_map { |entry| entry[:task_id] })
        return if tasks.empty?

        of_copy = entries.group_by { |entry| tasks[entry[:task_id]] }
        table.where(id: tasks.values.uniq, state: "running").order(:id).for_update.all.each do |copy|
          depth = of_copy[copy[:id]].map { |entry| entry[:depth] }.max + 1
          whole_or_stuck(copy, now) { step(state_of(copy), Journal::Cause.house(now, depth:)) }
        end
      end

      # Lets come what is due.
      def step(state, cause)
        copy, kit = state.copy, state.kit
        due = state.progress.due
        return finish_if_over(copy, kit, cause) if due.empty?

        desk = root.desks.open(now: cause.at)
        facts = facts(root.records.lock(copy[:record_id]), kit, cause, desk)
        add(copy, kit, kit.come(due, facts, now: cause.at, anchor: anchor_of(copy, kit, facts, cause.at)), cause)
        root.desks.settle(desk)
      end

      def finish_if_over(copy, kit, cause)
        return unless state_of(copy).progress.over?

        table.where(id: copy[:id]).update(state: "done", ended_at: cause.at)
        log("kit_done", copy, cause, name: kit.kit.name)
      end

      # A kit of the record that a task opens begins on it.
      def open_record(task, id, copy, kit, cause)
        opens = task.opens
        made = root.records.make(opens.kind, {"owner" => nil, **opens.values}, cause:)
        root.links.add(made["id"], opens.link_to, cause:) if opens.link_to
        root.tasks_by_rule.note_opened(id, made["id"])
        wanted = kit.kit.task(task.kit_task).opens.kit or return
        inner = schema.kits.compiled(wanted)
        unless inner
          raise Core::Error,
            "The record “#{made["title"]}” could not be opened with its kit: there is no published kit " \
            "#{wanted.inspect} that fits the set-up."
        end

        self.begin(inner, made["id"], cause: cause.with(depth: cause.depth + 1), task: id)
      end

      def day(date) = date ? Core::Show.date(date) : "no date"
    end
  end
end
