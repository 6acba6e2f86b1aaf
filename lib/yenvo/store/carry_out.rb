# frozen_string_literal: true

module Yenvo
  module Store
    # Carries out what one run plans, step by step, in the transaction that writes the run, and says of each step what it
    # did, in a form from which it can be taken back.
    class CarryOut < Part
      # @param outcome [Runs::Outcome]
      # @param run_id [Integer]
      # @param now [Time]
      def initialize(root, outcome, run_id, now)
        super(root)
        @outcome = outcome
        @run_id = run_id
        @now = now
        @cause = Journal::Cause.new(who: nil, at: now, run: run_id, rule: outcome.rule.id, depth: outcome.entry[:depth] + 1)
        @made = {}
        @proposals = {}
        @tasks = Hash.new { |hash, key| hash[key] = [] }
        remember(outcome.entry)
      end

      # @return [Array<Hash>] the actions as the run keeps them, each with what it "did"
      # @raise [Core::Error] when a step cannot be carried out
      def all
        @outcome.plan.steps.map do |row, number, step|
          kept = {"row" => row, "number" => number, "action" => step.is_a?(Core::Effect) ? step.action : "task", "title" => step.is_a?(Core::Effect) ? step.words : step.title,
                  "reason" => step.reason, "notes" => step.notes, "due" => (step.due&.to_h unless step.is_a?(Core::Effect))}
          @row = row
          @said = []
          did = step.is_a?(Core::Effect) ? send("do_#{step.action}", step, number) : make_task(step, row, number)
          kept.merge("notes" => step.notes + @said, "did" => did)
        end
      end

      private

      def entry = @outcome.entry

      # @return [Integer] the record that a step is about
      def record_of(target)
        return target unless target.is_a?(Array)

        @made[target[1]] || raise(Core::Error, "Action #{target[1]} made no record, so there is nothing to act on.")
      end

      def make_task(task, row, number)
        about = task.about ? record_of(task.about) : entry[:record_id]
        columns = root.tasks.planned_row(task, label: row, number: number, run: @run_id, rule: @outcome.rule.id, record_id: about, kind: about_kind(task, about), now: @now)
        columns[:parent_id] = @tasks[[row, task.under]].first if task.under
        return propose(columns, task, row, number) if task.ask && entry[:who]

        id = insert_all(:tasks, [columns])[0]
        @tasks[[row, number]] << id
        root.attachments.fill(id, task.paper, cause: @cause) if task.paper
        kind = columns[:kind]
        root.journal.add_all([root.tasks.log_row("task_made", id, about, kind, @cause, {title: columns[:title], assignee: columns[:assignee], queue: columns[:queue], rule: @outcome.rule.rule.name, task: root.tasks.seen(columns.merge(id: id), @now)}.compact)])
        root.told.given([Told::Given.new(row: columns.merge(id: id), cause: @cause, from: @outcome.rule.rule.name)])
        root.worked_out.tasks_changed([[kind, about]], @now)
        {"task" => id}
      end

      # Whoever caused it is asked first. What nobody caused is simply made.
      def propose(columns, task, row, number)
        kept = {**columns, paper: task.paper, under_proposal: (@proposals[[row, task.under]] if task.under && columns[:parent_id].nil?)}
        id = root.proposals.add(entry[:who], kept, rule_id: @outcome.rule.id, run_id: @run_id, at: @now)
        @proposals[[row, number]] ||= id
        {"proposal" => id}
      end

      def about_kind(task, about) = task.about ? root.records.row!(about)[:kind] : entry[:kind]

      def do_none(_effect, _number) = {}

      def do_set(effect, _number)
        id = record_of(effect.target)
        before = Image.of(root.records.lock(id))
        values = effect.data["values"].merge((effect.data["anew"] || {}).transform_values { |work| work.call(before) })
        note_anew(effect, values)
        after = root.records.change(id, values, cause: @cause)
        keys = values.keys
        {"record" => id, "from" => before.slice(*keys), "to" => after.slice(*keys)}
      end

      # A field that is counted up has to count from what it is, not from what it was at the event.
      def note_anew(effect, values)
        type = root.schema.kind!(entry[:kind])
        @said = values.reject { |key, value| effect.data["values"][key] == value }.map { |key, value| "#{type.field(key)&.label || key} had changed since, so it became #{Core::Show.value(type.field(key), value, root.schema)}" }
      end

      alias_method :do_assign, :do_set
      alias_method :do_move, :do_set

      def do_list(effect, number)
        id = record_of(effect.target)
        return put_on(effect, number, id) if effect.data["put"] == "on"

        entries = root.list_entries.of(id, effect.data["list"])
        {"gone" => entries.map { |one| root.list_entries.take_off(one, cause: @cause) }, "list" => effect.data["list"]}
      end

      def put_on(effect, number, id)
        known = root.list_entries.of(id, effect.data["list"]).first
        image = known ? nil : root.list_entries.put_on(id, effect.data["list"], section: effect.data["section"], cause: @cause)
        @made[number] = known || image["id"]
        {"record" => @made[number], "made" => !known, "version" => image && image["version"]}
      end

      def do_record(effect, number)
        image = root.records.make(effect.data["kind"], {"owner" => nil}.merge(effect.data["values"]), cause: @cause)
        @made[number] = image["id"]
        root.links.add(image["id"], effect.data["link_to"], cause: @cause) if effect.data["link_to"]
        {"record" => image["id"], "made" => true, "version" => image["version"]}
      end

      def do_log(effect, _number)
        id = record_of(effect.target)
        root.interactions.log(id, effect.data["way"], effect.data["text"], cause: @cause)
        {"record" => id, "interaction" => db[:interactions].where(record_id: id, run_id: @run_id).max(:id)}
      end

      # On the record itself the first tasks are planned already; another record is looked at now.
      def do_kit(effect, _number)
        id = record_of(effect.target)
        kit = effect.data["kit"]
        return {"copy" => nil, "why" => "it is in use there already"} if root.copies.taken([[id, kit.id]]).any?
        return {"copy" => root.copies.begin(kit, id, cause: @cause)[:id]} unless effect.data.key?("tasks")

        copy = root.copies.copy_row(kit, id, effect.data["anchor"], @now, @cause)
        copy[:id] = insert_all(:kit_copies, [copy])[0]
        root.journal.add_all([root.copies.begun(copy, kit, @cause)])
        root.copies.add(copy, kit, effect.data["tasks"], @cause)
        {"copy" => copy[:id]}
      end

      def do_notice(effect, _number)
        names = effect.data["persons"].map { |person| root.schema.name_of(person) }
        root.journal.add("told", @cause, record_id: effect.target, kind: entry[:kind], detail: {"text" => "#{names.join(", ")}: #{effect.data["text"]}"})
        {"notices" => root.notices.add(effect.data["persons"], effect.data["text"], at: @now, record_id: effect.target, rule_id: @outcome.rule.id, run_id: @run_id)}
      end

      def do_tasks(effect, _number)
        id = record_of(effect.target)
        test = effect.data["which"].to_proc
        open = db[:tasks].where({record_id: id, open: true, id: effect.data["task"]}.compact).order(:id).for_update.all.select { |row| test.call(facts_of(row)) }
        {"tasks" => open.filter_map { |row| root.tasks.change_by_rule(row, effect.data, cause: @cause) }}
      end

      # The rest of the row is done when the wait is over, by the same version.
      def do_wait(effect, number)
        task = (entry[:task_id] && entry[:task_id] != 0 && open_task?(entry[:task_id])) ? entry[:task_id] : 0
        origin = origin_of(entry)
        {"timer" => root.timers.add(**later(number), purpose: "wait", task_id: task, due_at: effect.data["due"], since: @now, data: dump(origin))}
      end

      # What the event was, for the rest of the row; behind a second wait still the first event.
      def origin_of(entry)
        detail = load(entry[:detail]) || {}
        return detail["origin"].merge("before" => load(entry[:before])) if detail["origin"]

        {"what" => entry[:what], "who" => entry[:who], "at" => Core::Reading.moment(entry[:at]), "detail" => detail, "before" => load(entry[:before])}
      end

      def do_ladder(effect, number)
        ladder = @outcome.rule.action(@outcome.rule.row_index(@row), number)
        # A task that is yet to be sent climbs from when it is.
        waits = @proposals[[@row, effect.data["on"]]]
        root.proposals.add_ladder(waits, later(number)) if waits
        ids = (effect.data["on"] == "this") ? [entry[:task_id]].compact : @tasks[[@row, effect.data["on"]]]
        images = root.tasks.images(ids, @now)
        {"ladders" => ids.select { |id| images[id] && images[id]["open"] }.map { |id| root.timers.add(**later(number), purpose: "ladder", task_id: id, due_at: ladder.due(0, images[id], since: @now), since: @now) }}
      end

      def later(number)
        {rule_id: @outcome.rule.id, version_id: @outcome.rule.version_id, kind: entry[:kind], record_id: entry[:record_id] || 0, run_id: @run_id, branch: @row, action: number, depth: entry[:depth]}
      end

      def open_task?(id) = db[:tasks].where(id: id).get(:open)

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
      MOST_WAITS = 20

      def recall(action)
        did = action["did"] || {}
        @tasks[[action["row"], action["number"]]].unshift(did["task"]) if did["task"]
        @made[action["number"]] ||= did["record"] if %w[record list].include?(action["action"]) && did["record"]
      end

      # A task seen as if it were a record, for the conditions that choose which tasks are changed.
      def facts_of(row)
        image = TaskImage.of(row, @now)
        Core::Facts.new(Core::Event.new(id: nil, what: "task", kind: "task", record_id: row[:id], before: {}, after: image, who: nil, at: @now))
      end
    end
  end
end
