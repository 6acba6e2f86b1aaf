# frozen_string_literal: true

module Yenvo
  module Store
    # The world as it is kept: does what one run plans, step by step, in the transaction that writes the run, and says
    # of each step what it did, in a form from which it can be taken back.
    class LiveWorld < Base
      MOST_WAITS = 20

      # @param outcome [Runs::Outcome]
      # @param run_id [Integer]
      # @param now [Time]
      def initialize(root, outcome, run_id, now)
        super(root)
        @outcome = outcome
        @run_id = run_id
        @now = now
        @cause = Journal::Cause.of_run(run_id, outcome, now)
        @made = {}
        @proposals = {}
        @papers = []
        @tasks = Hash.new { |hash, key| hash[key] = [] }
        remember(entry)
      end

      # @return [Array<Hash>] the actions as the run keeps them, each with what it "did"
      # @raise [Core::Error] when a step cannot be carried out
      def carry_out
        @outcome.plan.steps.map do |row, number, step|
          @place = [row, number]
          @said = []
          did = step.carry_out(self)
          step.kept(row, number).merge("notes" => step.notes + @said, "did" => did)
        end
      end

      def nothing(_step) = {}
      def stop_save(_step) = raise(Core::Error, "A save can only be stopped before it happens.")

      def make_task(task)
        about = task.about ? root.records.row!(record_of(task.about)).values_at(:kind, :id) : place_of_event
        columns = root.tasks.planned_row(task, place: @place, about:, cause: @cause)
        columns[:parent_id] = @tasks[under(task)].first if task.under
        return propose(columns, task) if task.ask && entry[:who]

        from = {rule: rule.rule.name}
        id = root.new_tasks.write([NewTasks::New.new(columns:, cause: @cause, from:, paper: task.paper)])[0]
        @tasks[@place] << id
        {"task" => id}
      end

      def place_of_event = entry.values_at(:kind, :record_id)

      def change_record(change)
        id = record_of(change.record)
        before = Image.of(root.records.lock(id))
        values = change.values.merge((change.anew || {}).transform_values { |work| work.call(before) })
        note_anew(change, values)
        after = root.records.change(id, values, cause: @cause)
        {"record" => id, "from" => before.slice(*values.keys), "to" => after.slice(*values.keys)}
      end

      def make_record(new)
        image = root.records.make(new.kind, {"owner" => nil}.merge(new.values), cause: @cause)
        root.links.add(image["id"], new.link_to, cause: @cause) if new.link_to
        made(image["id"], image["version"])
      end

      def put_on_list(step)
        id = record_of(step.record)
        known = root.list_entries.of(id, step.list).first
        return made(known, nil, new: false) if known

        image = root.list_entries.put_on(id, step.list, section: step.section, cause: @cause)
        made(image["id"], image["version"])
      end

      def take_off_list(step)
        entries = root.list_entries.of(record_of(step.record), step.list)
        {"gone" => entries.map { |one| root.list_entries.take_off(one, cause: @cause) }, "list" => step.list}
      end

      def log_interaction(step)
        id = record_of(step.record)
        root.interactions.log(id, step.way, step.text, cause: @cause)
        {"record" => id, "interaction" => db[:interactions].where(record_id: id, run_id: @run_id).max(:id)}
      end

      def tell_persons(step)
        names = step.persons.map { |person| schema.name_of(person) }.join(", ")
        about = {record_id: step.record}
        root.journal.add("told", @cause, **about, kind: entry[:kind], detail: {"text" => "#{names}: #{step.text}"})
        {"notices" => root.notices.add(step.persons, step.text, at: @now, **about, rule_id: rule.id, run_id: @run_id)}
      end

      # A task that is yet to be sent has no files.
      def make_paper(step)
        places = step.on ? ids_on(step.on).map { |id| {task_id: id} } : [{record_id: record_of(step.record)}]
        @said = ["there is no task yet to attach it to"] if places.empty?
        files = places.map { |place| root.attachments.lay(place, step, cause: @cause) }
        @papers << files.first if files.any?
        {"files" => files}
      end

      # What nobody caused leaves without being asked for.
      def send_out(step)
        step = step.with(content: {**step.content, "files" => attached(step)}) if step.attach.any?
        return {"proposal" => propose_message(step)} if step.ask && entry[:who]

        root.outbox.write([Outbox::New.of(step, @place, @cause, entry)])
        {}
      end

      def change_tasks(step)
        wanted = {record_id: record_of(step.record), id: step.task}.compact
        test = step.which.to_proc
        met = root.task_rows.open.where(wanted).order(:id).for_update.all.select { |row| test.call(facts_of(row)) }
        {"tasks" => met.filter_map { |row| root.tasks_by_rule.change(row, step, cause: @cause) }}
      end

      # A task that is yet to be sent cannot be spoken about.
      def comment_on_task(step)
        {"comments" => ids_on(step.on).map { |id| root.comments.add(id, step.text, cause: @cause)[:id] }}
      end

      # On the record itself the first tasks are planned already; another record is looked at now.
      def begin_kit(step)
        id = record_of(step.record)
        return {"copy" => nil, "why" => "it is in use there already"} if root.copies.taken([[id, step.kit.id]]).any?
        return {"copy" => root.copies.begin(step.kit, id, cause: @cause)[:id]} unless step.tasks

        {"copy" => root.copies.begin_planned(step.kit, step.tasks, id, anchor: step.anchor, cause: @cause)[:id]}
      end

      def begin_ladder(step)
        ladder = rule.action(rule.row_index(@place[0]), @place[1])
        # A task that is yet to be sent climbs from when it is.
        waits = @proposals[[@place[0], step.on]]
        root.proposals.add_ladder(waits, later) if waits
        images = root.task_rows.images(ids_on(step.on), @now).select { |_, image| image["open"] }
        {"ladders" => images.map { |id, image| climb(id, ladder.due(0, image, since: @now)) }}
      end

      # The rest of the row is done when the wait is over, by the same version.
      def leave_rest(step)
        {"timer" => add_timer("wait", task_of_wait, step.until_at, data: dump(origin_of(entry)))}
      end

      private

      def entry = @outcome.entry
      def rule = @outcome.rule
      def under(task) = [@place[0], task.under]

      # @return [Integer] the record that a step is about
      def record_of(target)
        return target unless target.is_a?(Array)

        @made[target[1]] || raise(Core::Error, "Action #{target[1]} made no record, so there is nothing to act on.")
      end

      def made(id, version, new: true)
        @made[@place[1]] = id
        {"record" => id, "made" => new, "version" => version}
      end

      # @param on [String, Integer] "this", or the number of an action
      # @return [Array<Integer>] ids of tasks
      def ids_on(on) = (on == "this") ? [entry[:task_id]].compact : @tasks[[@place[0], on]]

      # Whoever caused it is asked first. What nobody caused is simply made.
      def propose(columns, task)
        waits = @proposals[under(task)] if task.under && columns[:parent_id].nil?
        kept = columns.merge(paper: task.paper, under_proposal: waits)
        id = root.proposals.add(entry[:who], kept, rule_id: rule.id, run_id: @run_id, at: @now)
        @proposals[@place] ||= id
        {"proposal" => id}
      end

      def propose_message(step)
        kept = {**step.kept_message, "leaves_at" => Core::Reading.moment(step.leaves_at), "place" => @place}
        kept["content"] = {**kept["content"], **Outbox::New.thread(entry[:task_id])}
        root.proposals.add_message(entry[:who], kept, @cause, record_id: step.record)
      end

      # A field that is counted up has to count from what it is, not from what it was at the event.
      def note_anew(change, values)
        @said =
          values.reject { |key, value| change.values[key] == value }.map do |key, value|
            field = schema.kind!(entry[:kind]).field(key)
            "#{field.label} had changed since, so it became #{Core::Show.value(field, value, schema)}"
          end
      end

      # @return [Array<Hash>] id and name of the files that go along
      def attached(step)
        own = step.attach.include?("papers") ? @papers : []
        of_task = step.attach.include?("files") ? column(root.attachments.of(task_id: entry[:task_id]), :id) : []
        names = db[:attachments].where(id: own + of_task).select_hash(:id, :name)
        (own + of_task).uniq.filter_map { |id| {"id" => id, "name" => names[id]} if names[id] }
      end

      def climb(id, due) = add_timer("ladder", id, due)

      def add_timer(purpose, task, due, **more) =
        root.timers.add(**later, purpose:, task_id: task, due_at: due, since: @now, **more)

      # What the event was, for the rest of the row; behind a second wait still the first event.
      def origin_of(entry)
        detail = load(entry[:detail]) || {}
        before = {"before" => load(entry[:before])}
        return detail["origin"].merge(before) if detail["origin"]

        at = Core::Reading.moment(entry[:at])
        {"what" => entry[:what], "who" => entry[:who], "at" => at, "detail" => detail, **before}
      end

      # A rule about tasks goes on with its task, also when that is over.
      def task_of_wait = rule.kind.task? ? entry[:task_id] : open_task(entry[:task_id])
      def lane = rule.kind.task? ? Lane.of(*entry.values_at(:record_id, :task_id)) : entry[:record_id] || 0

      # Where what is left for later belongs.
      def later
        {
          rule_id: rule.id, version_id: rule.version_id, kind: entry[:kind] || Core::Schema::Subjects::TASK,
          record_id: lane,
          run_id: @run_id, branch: @place[0], action: @place[1], depth: entry[:depth]
        }
      end

      def open_task(id) = (id && root.task_rows.by_id([id]).dig(id, :open)) ? id : 0

      # What the run made before a wait can be spoken of behind it.
      def remember(entry)
        detail = load(entry[:detail])
        return unless entry[:what] == "timer_fired" && detail["timer"] == "wait"

        MOST_WAITS.times do
          run = detail && detail["run"] && db[:runs].where(id: detail["run"]).select(:entry_id, :actions).first or break
          load(run[:actions]).each { |action| recall(action) }
          before = db[:journal].where(id: run[:entry_id]).select(:what, :detail).first
          detail = (before && before[:what] == "timer_fired") ? load(before[:detail]) : nil
        end
      end

      def recall(action)
        did = action["did"] || {}
        @tasks[action.values_at("row", "number")].unshift(did["task"]) if did["task"]
        @made[action["number"]] ||= did["record"] if did.key?("made")
        @papers.unshift(*did["files"].to_a.first)
      end

      # A task seen as if it were a record, for the conditions that choose which tasks are changed.
      def facts_of(row) = Core::Facts.of_task(TaskImage.of(row, @now), at: @now)
    end
  end
end
