# frozen_string_literal: true

module Yenvo
  module Core
    class Ahead
      # Does to the copy what plans say. What reaches beyond the record (other records, notices) is only told.
      class Carrying
        # @param ahead [Ahead]
        def initialize(ahead, copy, timers, schema, rules)
          @ahead = ahead
          @copy = copy
          @timers = timers
          @schema = schema
          @rules = rules
        end

        # @param plan [Plan]
        # @param run [Hash, nil] what earlier steps of its row have made, by row and number
        def carry(plan, rule, event, after:, chained:, run: nil)
          run ||= {}
          depends = plan.depends.first(4)
          plan.steps.each do |row, number, step|
            context = Context.new(rule: rule, event: event, branch: row, depends: depends, after: after, chained: chained, run: run)
            step.is_a?(PlannedTask) ? make_task(step, number, context) : send(:"do_#{step.action}", step, number, context)
          end
        end

        # A change of the record, by a person or a rule; rules that run before the save have their say.
        def change_record(values, who:, depth:, cause:, context:)
          before = @copy.image
          values = values.reject { |key, value| before[key] == value }
          return if values.empty?

          after = before_save(before, before.merge(values).compact, who, depth, cause)
          after = stamped(before, after)
          @copy.become(after)
          @copy.happened("record_changed", @ahead.at, before: before, after: after, who: who, depth: depth, context: context)
        end

        # Kits go on with what has happened: their next tasks come, and dates follow their target.
        def go_on(event, context)
          next_tasks(event, context) if %w[task_done task_dropped].include?(event.what)
          follow_target(event, context) if event.what == "record_changed"
        end

        private

        def at = @ahead.at
        def own?(target) = target == @copy.id

        def make_task(task, number, context)
          due = task.due
          return @ahead.note(context, "task", "Task “#{task.title}”", title: task.title, who: task.assignee || task.queue, due: due) if task.about && !own?(task.about)
          return @ahead.note(context, "proposal", "#{@schema.name_of(context.event.who)} is asked about a task “#{task.title}”", title: task.title, who: context.event.who, due: due) if task.ask && context.event.who

          made = @copy.add_task(task, at)
          (context.run[[context.branch, number]] ||= []) << made.id
          @ahead.note(context, "task", "Task “#{task.title}”", title: task.title, who: task.assignee || task.queue, due: due)
          @copy.happened("task_made", at, task: made, context: with_after(context, task.title))
        end

        def with_after(context, title) = context.with(after: "“#{title}”")

        def do_none(_effect, _number, _context) = nil

        def do_set(effect, _number, context)
          @ahead.note(context, "changed", effect.words)
          change_record(effect.data["values"], who: nil, depth: context.event.depth + 1, cause: context.rule.id, context: context) if own?(effect.target)
        end
        alias_method :do_assign, :do_set
        alias_method :do_move, :do_set

        def tell(effect, _number, context) = @ahead.note(context, effect.action, effect.words, who: effect.data["persons"]&.first)
        alias_method :do_notice, :tell

        def do_list(effect, number, context)
          tell(effect, number, context)
          return unless own?(effect.target) && effect.data["put"] == "on"

          linked("put_on_list", effect.data["list"], @copy.image["title"], Schema::Kind::ABOUT, context, {"list" => @schema.kind(effect.data["list"]).list})
        end

        # A record that leads here by a field is linked with this one.
        def do_record(effect, number, context)
          tell(effect, number, context)
          @schema.kind(effect.data["kind"]).fields.each_value do |field|
            linked("linked", effect.data["kind"], effect.data["values"]["title"], field.key, context) if field.type == "link" && effect.data["values"][field.key] == @copy.id
          end
          linked("linked", effect.data["kind"], effect.data["values"]["title"], nil, context) if effect.data["link_to"] == @copy.id
        end

        def linked(what, kind, title, field, context, more = {})
          @copy.happened(what, at, context: context, detail: {"kind" => kind, "title" => title, "field" => field, **more}.compact)
        end

        def do_log(effect, number, context)
          tell(effect, number, context)
          return unless own?(effect.target)

          before = @copy.image
          @copy.become(before.merge("last_contact" => [before["last_contact"], Reading.moment(at)].compact.max, "changed" => Reading.moment(at))) unless effect.data["way"] == "note"
          @copy.happened("interaction_logged", at, before: before, context: context, detail: {"way" => effect.data["way"], "text" => effect.data["text"]})
        end

        def do_wait(effect, number, context)
          @ahead.note(context, "wait", effect.words)
          event = context.event
          origin = event.detail["origin"] || {"what" => event.what, "who" => event.who, "at" => Reading.moment(event.at), "detail" => event.detail}
          task = event.detail["task"] && @copy.task(event.detail["task"]["id"])
          @timers.add(purpose: "wait", rule: context.rule, task: (task.id if task&.open?), due: effect.data["due"], since: at, branch: context.branch, action: number, step: 0, depth: event.depth, before: event.before, origin: origin, run: context.run)
        end

        def do_ladder(effect, number, context)
          ladder = context.rule.action(context.rule.row_index(context.branch), number)
          ids = (effect.data["on"] == "this") ? [context.event.detail.dig("task", "id")] : context.run.fetch([context.branch, effect.data["on"]], [])
          ids.filter_map { |id| @copy.task(id) }.select(&:open?).each do |task|
            @timers.add(purpose: "ladder", rule: context.rule, task: task.id, due: ladder.due(0, @copy.seen(task, at), since: at), since: at, branch: context.branch, action: number, step: 0, depth: context.event.depth, run: context.run)
          end
        end

        def do_tasks(effect, _number, context)
          test = effect.data["which"].to_proc
          met = own?(effect.target) ? @copy.tasks.select { |task| task.open? && (effect.data["task"].nil? || effect.data["task"] == task.id) && test.call(about(task)) } : []
          changed = met.select { |task| change_task(task, effect.data, context) }
          @ahead.note(context, "task_changed", effect.words, title: changed.map { |task| task.image["title"] }.uniq.join(", "), who: effect.data["assignee"] || effect.data["queue"], due: effect.data["due"]) if changed.any?
        end

        def about(task) = Facts.new(Event.new(id: nil, what: "task", kind: "task", record_id: task.id, before: {}, after: @copy.seen(task, at), who: nil, at: at))

        # @return [Boolean] whether it is another now
        def change_task(task, wanted, context)
          image = task.image
          to = image.dup
          to["priority"] = wanted["priority"] if wanted["priority"]
          to.merge!(@copy.due_image(wanted["due"])) if wanted["due"]
          to.merge!("assignee" => wanted["assignee"], "queue" => wanted["queue"], "team" => @schema.person(wanted["assignee"])&.team || @copy.start.queue_teams[wanted["queue"]]) if wanted["assignee"] || wanted["queue"]
          to.merge!("stage" => wanted["state"], "open" => !%w[done dropped].include?(wanted["state"]), "note" => wanted["note"]) if wanted["state"]
          write_task(task, to.compact, wanted["due"], context)
        end

        def write_task(task, to, due, context)
          return false if to == task.image

          changed = {"assignee" => %w[assignee queue], "due" => %w[due late_from], "priority" => %w[priority], "state" => %w[stage]}.filter_map { |name, keys| name if keys.any? { |key| task.image[key] != to[key] } }
          task.image = to
          task.due_at = due.moment if due
          task.late_noted = false if due && changed.include?("due")
          @timers.task_changed(task, changed, at)
          what = {"done" => "task_done", "dropped" => "task_dropped"}.fetch(changed.include?("state") ? to["stage"] : nil, "task_changed")
          @copy.happened(what, at, task: task, context: context && with_after(context, to["title"]), detail: {"changed" => changed})
          true
        end

        def do_kit(effect, number, context)
          @ahead.note(context, "kit", effect.words)
          kit = effect.data["kit"]
          return if !own?(effect.target) || effect.data["tasks"].nil? || @copy.copies.any? { |copy| copy[:kit].id == kit.id && !copy[:over] }

          @copy.copies << {kit: kit, anchor: effect.data["anchor"], follows: kit.kit.field? ? kit.kit.from : nil, passed: []}
          come(effect.data["tasks"], @copy.copies.size - 1, context)
        end

        def come(tasks, copy, context)
          tasks.each do |task|
            made = @copy.add_task(task, at, copy: copy, kit_task: task.kit_task)
            @ahead.note(context, "task", "Task “#{task.title}”", title: task.title, who: task.assignee || task.queue, due: task.due)
            @copy.happened("task_made", at, task: made, context: context && with_after(context, task.title))
          end
        end

        def next_tasks(event, context)
          index = @copy.task(event.detail.dig("task", "id"))&.copy or return
          copy = @copy.copies[index]
          states = @copy.tasks.select { |task| task.copy == index }.to_h { |task| [task.kit_task, task.open? ? Kits::Progress::State.open : Kits::Progress::State.over(task.image["answer"])] }
          copy[:passed].each { |key| states[key] ||= Kits::Progress::State.over }
          due = Kits::Progress.new(copy[:kit].kit, states).due
          return if due.empty?

          facts = @copy.look(at)
          come(copy[:kit].come(due, facts, now: at, anchor: anchor(copy, facts)), index, context)
        rescue Error
          nil
        end

        def anchor(copy, facts) = (copy[:follows] && copy[:kit].kit.moves == "follow") ? copy[:kit].anchor(facts, now: at) : copy[:anchor]

        def follow_target(event, context)
          @copy.copies.each_with_index do |copy, index|
            next unless copy[:follows] && copy[:kit].kit.moves == "follow" && event.before[copy[:follows]] != event.after[copy[:follows]]

            facts = @copy.look(at)
            facts.anchor = anchor(copy, facts)
            redate(copy, index, facts, context)
          end
        end

        def redate(copy, index, facts, context)
          @copy.tasks.select { |task| task.copy == index && task.open? && !task.redated && copy[:kit].tasks.key?(task.kit_task) }.each do |task|
            dates = copy[:kit].tasks[task.kit_task].moved(facts, now: task.made_at)
            next unless dates.key?(:due)

            moved = write_task(task, task.image.merge(@copy.due_image(dates[:due])).compact, dates[:due], context)
            @ahead.note(context, "task_changed", "“#{task.image["title"]}” moves to #{dates[:due] ? Show.date(dates[:due].on) : "no date"} with the kit", title: task.image["title"], who: task.image["assignee"] || task.image["queue"], due: dates[:due]) if moved
          end
        end

        def before_save(before, after, who, depth, cause)
          matcher = @rules.before or return after
          place = -1
          loop do
            event = Event.new(id: nil, what: "record_changed", kind: @copy.kind.key, record_id: @copy.id, before: before, after: after, who: who, at: at, depth: depth, cause_rule: cause)
            facts = @copy.facts(event)
            rule, place = matcher.next_hit(facts, place)
            return after unless rule

            plan = rule.plan(facts, now: at) { @copy.over?(rule, facts, rule.once_key(facts)) }
            plan.steps.each { |_, _, effect| after = after.merge(effect.data["values"] || {}).compact } if plan.run?
          end
        rescue Error
          after
        end

        def stamped(before, after)
          stamp = Reading.moment(at)
          changed = (before.keys | after.keys).reject { |key| before[key] == after[key] } - Schema::Kind::KEPT_BY_YENVO
          after = after.merge("changed" => stamp, "version" => before["version"].to_i + 1, "since" => (before["since"] || {}).merge(changed.to_h { |key| [key, stamp] }))
          (before["stage"] == after["stage"]) ? after : after.merge("stage_since" => stamp, "visit" => before["visit"].to_i + 1)
        end
      end
    end
  end
end
