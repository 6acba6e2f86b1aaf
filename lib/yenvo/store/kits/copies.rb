# frozen_string_literal: true

module Yenvo
  module Store
    # Kits in use on records. Which tasks come, and when one is not needed any more, the core says
    # (Core::Kits::Progress); here it is looked up what there is, and written what comes of it.
    class Copies < Base
      # What a step of a copy goes by. copy: Hash, the row, locked; kit: Core::Kits::CompiledKit; tasks: rows of its
      # tasks.
      State =
        Core::Value.define(:copy, :kit, :tasks) do
          # @return [Core::Kits::Progress]
          def progress = Core::Kits::Progress.new(kit.kit, states)

          # Where several persons have the same task, it is over when all have done it; the last answer counts.
          def states
            passed = JSON.parse(copy[:passed]).to_h { |key| [key, Core::Kits::Progress::State.over] }
            passed.merge(tasks.group_by { |row| row[:kit_task] }.transform_values { |rows| state_of(rows) })
          end

          private

          def state_of(rows)
            return Core::Kits::Progress::State.open if rows.any? { |row| row[:open] }

            last = rows.max_by { |row| [row[:done_at], row[:id]] }
            Core::Kits::Progress::State.over((last[:state] == "done") ? last[:answer] : nil)
          end
        end

      # @raise [NotFound]
      def find!(id) =
        db[:kit_copies].where(id:).first || raise(NotFound, "There is no kit in use with the number #{id}.")

      PAGE = 20

      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>] copies on a record, the newest first
      def of_record(id, before: nil)
        found = db[:kit_copies].where(record_id: id).reverse(:id).limit(PAGE)
        (before ? found.where { Sequel[:id] < before } : found).all
      end

      # @return [Integer]
      def count_of_record(id) = db[:kit_copies].where(record_id: id).count

      # @return [Hash{Integer => Integer}] running copies by kit
      def running(kit_ids) =
        db[:kit_copies].where(kit_id: kit_ids, state: "running").group_and_count(:kit_id).as_hash(:kit_id, :count)

      # @return [Hash{Integer => Integer}] running copies by version of a kit
      def by_version(kit_id) =
        db[:kit_copies].where(kit_id:, state: "running").group_and_count(:version_id)
          .as_hash(:version_id, :count)

      # @return [Array<Hash>] running copies of a kit, the oldest first
      def running_of(kit_id, limit: 100) =
        db[:kit_copies].where(kit_id:, state: "running").order(:id).limit(limit).all

      # How far the kits of the records that tasks opened have come. Tasks that are not needed do not count.
      # @param task_ids [Array<Integer>]
      # @return [Hash{Integer => Hash}] by task: done, all, state, record_id
      def children(task_ids)
        return {} if task_ids.empty?

        copies = db[:kit_copies].where(task_id: task_ids).all
        states = states_of(copies)
        copies.to_h do |copy|
          progress = states[copy[:id]]&.progress
          keys = progress ? states[copy[:id]].kit.kit.tasks.map(&:key) - progress.not_needed : []
          [
            copy[:task_id],
            {
              done: keys.count { |key| progress.of(key) == :over }, all: keys.size, state: copy[:state],
              record_id: copy[:record_id]
            }
          ]
        end
      end

      # @return [Set<Array(Integer, Integer)>] record and kit of those that are in use among pairs
      def taken(pairs) =
        if pairs.empty?
          Set.new
        else
          db[:kit_copies].where(%i[record_id kit_id] => pairs.uniq, :state => "running")
            .select_map(%i[record_id kit_id]).to_set
        end

      # Begins a kit on a record, by hand or where a run could not plan it beforehand.
      # @param kit [Core::Kits::CompiledKit]
      # @param anchor [Date, Time, nil] from which it counts; by its own field or the moment when not given
      # @param task [Integer, nil] the task that opened the record
      # @return [Hash] the row of the copy
      # @raise [Refused, Core::Error]
      def begin(kit, record_id, cause:, anchor: nil, task: nil)
        root.transaction do
          record = root.records.lock(record_id)
          unless record[:kind] == kit.kind.key
            raise Refused.at("kit" => "“#{kit.kit.name}” is for a #{kit.kind.noun}; “#{record[:title]}” is none.")
          end
          if taken([[record_id, kit.id]]).any?
            raise Refused.at(
                    "kit" => "“#{kit.kit.name}” is in use on “#{record[:title]}” already. Finish or stop it first."
                  )
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
      def copy_row(kit, record_id, anchor, now, cause)
        {
          kit_id: kit.id, version_id: kit.version_id, record_id:, kind: kit.kind.key, state: "running",
          anchor: anchor.is_a?(Time) ? anchor : nil, anchor_on: anchor.is_a?(Date) ? anchor : nil,
          anchor_field: kit.kit.field? ? kit.kit.from : nil, passed: "[]", run_id: cause.run, rule_id: cause.rule,
          begun_by: cause.who, begun_at: now
        }
      end

      # Begins a kit whose first tasks are planned already.
      # @param tasks [Array<Core::PlannedTask>]
      # @return [Hash] the row
      def begin_planned(kit, tasks, record_id, anchor:, cause:, task: nil)
        copy = {**copy_row(kit, record_id, anchor, cause.at, cause), task_id: task}
        copy[:id] = insert_all(:kit_copies, [copy])[0]
        log("kit_begun", copy, kit, cause, {})
        add(copy, kit, tasks, cause)
        copy
      end

      # Begins many that are planned, whose tasks open no records, by two inserts.
      # @param begun [Array<Array(Core::Effects::BeginKit, Integer, Journal::Cause)>] each with its record
      # @return [Array<NewTasks::New>] their first tasks, which are still to be written
      def begin_all(begun)
        rows = begun.map { |step, record, cause| copy_row(step.kit, record, step.anchor, cause.at, cause) }
        insert_all(:kit_copies, rows).zip(rows) { |id, row| row[:id] = id }
        all = rows.zip(begun)
        root.journal.add_all(all.map { |row, (step, _, cause)| entry("kit_begun", row, step.kit, cause, {}) })
        all.flat_map { |row, (step, _, cause)| step.tasks.map { |task| new_task(task, row, step.kit, cause) } }
      end

      # Goes on with the copies whose tasks or target something has happened to.
      # @param entries [Array<Hash>] rows of the journal
      def go_on(entries, now:)
        over = entries.select { |entry| %w[task_done task_dropped].include?(entry[:what]) }
        step_all(over, now) if over.any?
        moved = entries.select { |entry| entry[:what] == "record_changed" }
        follow_all(moved, now) if moved.any?
      end

      # Lets a task be passed over, whether it has come or not, as if it were done without an answer.
      # @param key [String]
      # @raise [Refused]
      def skip(id, key, cause:)
        change(id, cause) do |found|
          state = state_of(found.copy)
          raise Refused.at("task" => "There is no such task in this kit.") unless state.kit.kit.task(key)

          case state.progress.of(key)
          when :over
            raise Refused.at("task" => "That task is over already.")
          when :not_needed
            raise Refused.at("task" => "That task is not needed any more.")
          end
          pass_over(state, [key, *state.kit.kit.parts(key).map(&:key)], cause)
          log("kit_passed", state.copy, state.kit, cause, {"task" => title_of(state, key)})
          step(reread(state), cause)
        end
      end

      # Stops a copy: its open tasks are dropped, and no more come.
      def stop(id, cause:)
        change(id, cause) do |state|
          db[:kit_copies].where(id:).update(state: "stopped", ended_at: cause.at)
          state.tasks.select { |row| row[:open] }
            .each { |row| root.tasks.drop(row[:id], note: "The kit was stopped.", cause:) }
          name = root.kits.names([state.copy[:kit_id]])[state.copy[:kit_id]]
          root.journal.add(
            "kit_stopped", cause, record_id: state.copy[:record_id], kind: state.copy[:kind],
            detail: {"kit" => name, "copy" => id}
          )
        end
      end

      # What would become of a copy if it went on by another version: titles of tasks that stay, that would be dropped,
      # that would come at once, and that would get another due date.
      # @return [Hash{Symbol => Array<String>}]
      def preview_move(id, version_id, now:)
        state = as_it_is(find!(id))
        other =
          root.kits.compiled(version_id) ||
          raise(Refused.at("version" => "That version does not fit the set-up any more."))
        stay, go = state.tasks.select { |row| row[:open] }.partition { |row| other.kit.task(row[:kit_task]) }
        moved = state.with(kit: other, tasks: state.tasks.select { |row| other.kit.task(row[:kit_task]) })
        {
          stay: stay.map { |row| row[:title] }, go: go.map { |row| row[:title] },
          come: moved.progress.due.map { |key| other.kit.task(key).title }, dated:
            redates(moved, now).map do |row, columns|
              "#{row[:title]}: #{day(row[:due_on])} becomes #{day(columns.fetch(:due_on, row[:due_on]))}"
            end
        }
      end

      # Moves a copy to another version of its kit, as +preview_move+ says.
      def move(id, version_id, cause:)
        change(id, cause) do |state|
          other = root.kits.compiled(version_id)
          unless other && other.id == state.copy[:kit_id]
            raise Refused.at("version" => "That is no version of this kit that still fits the set-up.")
          end

          db[:kit_copies].where(id:).update(
            version_id:, anchor_field: other.kit.field? ? other.kit.from : nil
          )
          state.tasks.select { |row| row[:open] && other.kit.task(row[:kit_task]).nil? }
            .each do |row|
              root.tasks.drop(row[:id], note: "Version #{other.number} of the kit has no such task.", cause:)
            end
          log("kit_moved_on", state.copy, other, cause, {"version" => other.number})
          state = reread(state)
          redate(state, cause, "version #{other.number} of the kit")
          step(state, cause)
        end
      end

      # Takes back what the end of a task set off: tasks that came after it and that nobody has touched.
      # @param task [Hash] row, over
      # @raise [Refused] when something that came after it was worked on
      def task_reopens(task, cause)
        return unless task[:copy_id]

        copy = db[:kit_copies].where(id: task[:copy_id]).for_update.first
        state = state_of(copy)
        later =
          state.tasks.select do |row|
            row[:made_at] >= task[:done_at] && row[:id] != task[:id] &&
              state.kit.kit.task(row[:kit_task]).after.flatten.any? { |step| step.task == task[:kit_task] }
          end
        touched = later.find { |row| !row[:open] || row[:version] > 1 }
        if touched
          raise Refused.at(
                  "task" =>
                    "“#{touched[:title]}”, which came after it, has been worked on since, so it cannot be taken back."
                )
        end

        later.each { |row| root.tasks.drop(row[:id], note: "What it came after was taken back.", cause:) }
        root.tasks.leave_kit(later.map { |row| row[:id] })
        db[:kit_copies].where(id: copy[:id]).update(state: "running", ended_at: nil) unless copy[:state] == "stopped"
      end

      # The kits in use on a record, for looking ahead.
      # @return [Array<Hash>] id, kit, anchor, follows (own field or nil), passed
      def running_on(record_id)
        db[:kit_copies].where(record_id:, state: "running").order(:id).all
          .filter_map do |copy|
            kit = root.kits.compiled(copy[:version_id])
            kit &&
              {
                id: copy[:id], kit:, anchor: copy[:anchor_on] || copy[:anchor], follows: copy[:anchor_field],
                passed: load(copy[:passed])
              }
          end
      end

      # @param copy [Hash] row
      # @return [State]
      def state_of(copy)
        kit =
          root.kits.compiled(copy[:version_id]) ||
          raise(
            Refused.at(
              "kit" =>
                "The version of the kit that it uses does not fit the set-up any more. Move it to a newer one or " \
                "stop it."
            )
          )
        State.new(copy:, kit:, tasks: root.task_rows.of_copies(copy[:id]).order(:id).all)
      end

      # Where many copies stand, by one query for all their tasks.
      # @param copies [Array<Hash>] rows
      # @return [Hash{Integer => State}] by copy; without those whose version no longer fits the set-up
      def states_of(copies)
        rows =
          (
            if copies.empty?
              {}
            else
              root.task_rows.of_copies(copies.map { |copy| copy[:id] }).order(:id).all.group_by { |row| row[:copy_id] }
            end
          )
        copies
          .filter_map do |copy|
            (kit = root.kits.compiled(copy[:version_id])) &&
              [copy[:id], State.new(copy:, kit:, tasks: rows.fetch(copy[:id], []))]
          end
          .to_h
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
      def pass_over(state, keys, cause)
        state.tasks.select { |row| keys.include?(row[:kit_task]) && row[:open] }
          .each { |row| root.tasks.drop(row[:id], note: "Skipped in the kit.", cause:) }
        ahead = keys.select { |key| %i[due waiting].include?(state.progress.of(key)) }
        db[:kit_copies].where(id: state.copy[:id]).update(passed: dump(load(state.copy[:passed]) | ahead)) if ahead.any?
      end

      def new_task(task, copy, kit, cause)
        behind = cause.with(run: copy[:run_id], rule: copy[:rule_id])
        about = copy.values_at(:kind, :record_id)
        columns = root.tasks.planned_row(task, place: [nil, kit.kit.number(task.kit_task)], about:, cause: behind)
        NewTasks::New.new(
          columns: columns.merge(kit_id: kit.id, copy_id: copy[:id], kit_task: task.kit_task), cause:,
          from: {kit: kit.kit.name}, paper: task.paper, key: [copy[:id], task.kit_task],
          under: task.under && [copy[:id], task.under]
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

      # @return [Array] an entry for the journal
      def entry(what, copy, kit, cause, detail)
        said = {"kit" => kit.kit.name, "copy" => copy[:id], **detail}
        [what, cause, {record_id: copy[:record_id], kind: copy[:kind], detail: said}]
      end

      def facts(record, kit, cause, desk)
        image = Image.of(record)
        event =
          Core::Event.look(record[:kind], {**image, "id" => record[:id]}, at: cause.at, what: "kit", who: cause.who)
        root.snapshots.facts([event], desk:) { kit.needs }.first
      end

      def change(id, cause)
        root.transaction do
          copy = db[:kit_copies].where(id:).for_update.first || find!(id)
          unless copy[:state] == "running"
            raise Refused.at(
                    "kit" => "This use of the kit is #{(copy[:state] == "done") ? "finished" : "stopped"} already."
                  )
          end

          yield as_it_is(copy)
          find!(id)
        end
      end

      # As the task is called on the record, or as its template reads where it has not come.
      def title_of(state, key)
        state.tasks.find { |row| row[:kit_task] == key }&.fetch(:title) ||
          Core::Text.shown(state.kit.kit.task(key).title, state.kit.kind, root.schema)
      end

      # Also when its version no longer fits the set-up: kit is nil then. So it can still be stopped or moved on.
      def as_it_is(copy) =
        State.new(
          copy:, kit: root.kits.compiled(copy[:version_id]),
          tasks: root.task_rows.of_copies(copy[:id]).order(:id).all
        )

      def reread(state) = state_of(find!(state.copy[:id]))

      def step_all(entries, now)
        tasks = root.task_rows.copies_of(entries.filter_map { |entry| entry[:task_id] })
        return if tasks.empty?

        deepest =
          entries.group_by { |entry| tasks[entry[:task_id]] }
            .transform_values { |some| some.map { |one| one[:depth] }.max }
        db[:kit_copies].where(id: tasks.values.uniq, state: "running").order(:id).for_update.all
          .each do |copy|
            # What cannot be done whole leaves nothing behind.
            db.transaction(savepoint: true) do
              step(
                state_of(copy),
                Journal::Cause.house(now, depth: deepest.fetch(copy[:id], 0) + 1)
              )
            end
          rescue Breakage => error
            log_trouble(copy, error, now)
          end
      end

      # A kit that cannot go on must not keep the worker from its other work; the record says what is wrong.
      def log_trouble(copy, error, now)
        said = Breakage.sentence(error, copy: copy[:id])
        cause = Journal::Cause.house(now)
        name = root.kits.names([copy[:kit_id]])[copy[:kit_id]]
        whom = [copy[:begun_by], root.kits.find!(copy[:kit_id])[:owner]].compact.uniq
        root.notices.add(
          whom, "The kit “#{name}” is stuck: #{said}", at: now, what: "stuck", record_id: copy[:record_id]
        )
        root.journal.add(
          "kit_stuck", cause, record_id: copy[:record_id], kind: copy[:kind], detail: {"kit" => name, "why" => said}
        )
      end

      # Lets come what is due.
      def step(state, cause)
        due = state.progress.due
        return finish_if_over(state.copy, state.kit, cause) if due.empty?

        desk = root.desks.open(now: cause.at)
        facts = facts(root.records.lock(state.copy[:record_id]), state.kit, cause, desk)
        add(
          state.copy, state.kit,
          state.kit.come(due, facts, now: cause.at, anchor: anchor_of(state.copy, state.kit, facts, cause.at)), cause
        )
        root.desks.settle(desk)
      end

      # From which date it counts: its field as it is now, else the moment kept when it began.
      def anchor_of(copy, kit, facts, now)
        if copy[:anchor_field] && kit.kit.moves == "follow"
          kit.anchor(facts, now:)
        else
          copy[:anchor_on] || copy[:anchor]
        end
      end

      def finish_if_over(copy, kit, cause)
        return unless state_of(copy).progress.over?

        db[:kit_copies].where(id: copy[:id]).update(state: "done", ended_at: cause.at)
        log("kit_done", copy, kit, cause, {})
      end

      def log(what, copy, kit, cause, detail)
        _, _, columns = entry(what, copy, kit, cause, detail)
        root.journal.add(what, cause, **columns)
      end

      # A kit of the record that a task opens begins on it.
      def open_record(task, id, copy, kit, cause)
        made =
          root.records.make(task.opens.kind, {"owner" => nil}.merge(task.opens.values), cause:)
        root.links.add(made["id"], task.opens.link_to, cause:) if task.opens.link_to
        root.tasks.note_opened(id, made["id"])
        wanted = kit.kit.task(task.kit_task).opens.kit
        inner = wanted && root.schema.kits.compiled(wanted)
        if wanted && inner.nil?
          raise Core::Error,
            "The record “#{made["title"]}” could not be opened with its kit: there is no published kit " \
            "#{wanted.inspect} that fits the set-up."
        end

        self.begin(inner, made["id"], cause: cause.with(depth: cause.depth + 1), task: id) if inner
      end

      # Copies that count from a field which has moved: their open tasks follow, but those re-dated by hand.
      def follow_all(entries, now)
        copies =
          db[:kit_copies].where(record_id: entries.map { |entry| entry[:record_id] }.uniq, state: "running")
            .exclude(anchor_field: nil).for_update.all
        copies.each do |copy|
          moved =
            entries.reverse.find do |entry|
              entry[:record_id] == copy[:record_id] &&
                load(entry[:before])&.[](copy[:anchor_field]) != load(entry[:after])&.[](copy[:anchor_field])
            end or next
          state = state_of(copy)
          next unless state.kit.kit.moves == "follow"

          db.transaction(savepoint: true) do
            redate(
              state, Journal::Cause.house(now, depth: moved[:depth] + 1),
              state.kit.field.label, from: load(moved[:before])&.[](copy[:anchor_field]),
              to: load(moved[:after])&.[](copy[:anchor_field])
            )
          end
        rescue Breakage => error
          log_trouble(copy, error, now)
        end
      end

      # Gives open tasks the dates that they have now by the kit, and says in the journal what moved and what did not.
      def redate(state, cause, why, **detail)
        changes = redates(state, cause.at)
        moved =
          changes.map do |row, columns|
            root.tasks.redate(row, columns, cause:, why:)
            {
              "title" => row[:title], "from" => row[:due_on]&.iso8601,
              "to" => columns.fetch(:due_on, row[:due_on])&.iso8601
            }
          end
        kept = state.tasks.select { |row| row[:open] && row[:redated] }.map { |row| row[:title] }
        if moved.any? || kept.any?
          log(
            "kit_dated", state.copy, state.kit, cause,
            {"why" => why, "moved" => moved, "kept" => kept, **detail.transform_keys(&:to_s)}
          )
        end
      end

      # @return [Array<Array(Hash, Hash)>] open tasks, not re-dated by hand, and the columns that differ by the kit as
      #   it is now
      def redates(state, now)
        open = state.tasks.select { |row| row[:open] && !row[:redated] && state.kit.tasks.key?(row[:kit_task]) }
        return [] if open.empty?

        facts = facts(root.records.row!(state.copy[:record_id]), state.kit, Journal::Cause.house(now), nil)
        facts = facts.anchored(anchor_of(state.copy, state.kit, facts, now))
        open.filter_map do |row|
          columns =
            TaskColumns.of_dates(state.kit.tasks[row[:kit_task]].moved(facts, now: row[:made_at]))
              .reject { |name, value| row[name] == value }
          [row, columns] if columns.any?
        end
      end

      def day(date) = date ? Core::Show.date(date) : "no date"
    end
  end
end
