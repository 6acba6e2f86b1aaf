# frozen_string_literal: true

module Yenvo
  module Core
    class Ahead
      # The world as it is only thought: does to the copy what plans say. What reaches beyond the record (other records,
      # notices) is told and not done.
      class ThoughtWorld
        # @param ahead [Ahead]
        # @param changes [Changes]
        # @param kits [KitsGoing]
        def initialize(ahead, copy, timers, schema, changes, kits)
          @ahead = ahead
          @copy = copy
          @timers = timers
          @schema = schema
          @changes = changes
          @kits = kits
        end

        # @param plan [Plan]
        # @param run [Hash, nil] what earlier steps of its row have made, by row and number
        def carry(plan, rule, event, after:, chained:, run: nil)
          # Nothing of a run happens of which something would be refused.
          return if refused?(plan, rule, event)

          common = {rule:, event:, depends: plan.depends.first(4), after:, chained:}
          run ||= {}
          plan.steps.each do |row, number, step|
            @context = Context.new(branch: row, run:, **common)
            @number = number
            step.carry_out(self)
          end
        end

        def nothing(_step) = {}
        def stop_save(_step) = {}

        def make_task(task)
          return told("task", task) if task.about && !own?(task.about)
          return ask(task) if task.ask && event.who

          made = @kits.add(task, @context)
          (@context.run[place] ||= []) << made.id
          {"task" => made.id}
        end

        def change_record(step)
          @ahead.note(@context, "changed", step.words)
          return {} unless own?(step.record)

          @changes.change(step.values, depth: event.depth + 1, cause: @context.rule.id, context: @context)
        end

        # A record that leads here by a field is linked with this one.
        def make_record(step)
          tell(step)
          ways = @schema.kind(step.kind).links.select { |field| step.values[field.key] == @copy.id }.map(&:key)
          ways << nil if step.link_to == @copy.id
          ways.each { |field| linked("linked", step.kind, step.values["title"], field) }
          {}
        end

        def put_on_list(step)
          tell(step)
          return {} unless own?(step.record)

          list = @schema.kind(step.list).list
          linked("put_on_list", step.list, @copy.image["title"], Schema::Kind::ABOUT, "list" => list)
        end

        def take_off_list(step) = tell(step)
        def make_paper(step) = tell(step)
        def send_out(step) = tell(step)
        def comment_on_task(step) = tell(step)
        def tell_persons(step) = tell(step, who: step.persons.first)

        def log_interaction(step)
          tell(step)
          return {} unless own?(step.record)

          before = @copy.image
          now = Reading.moment(at)
          unless step.way == "note"
            @copy.become(before.merge("last_contact" => [before["last_contact"], now].compact.max, "changed" => now))
          end
          happened("interaction_logged", before:, detail: {"way" => step.way, "text" => step.text})
        end

        def change_tasks(step)
          return {} unless own?(step.record)

          test = step.which.to_proc
          met = @copy.tasks.select { |task| task.open? && [nil, task.id].include?(step.task) && test.call(about(task)) }
          changed = met.select { |task| @changes.change_task(task, step, @context) }
          return {} if changed.empty?

          titles = changed.map { |task| task.image["title"] }.uniq.join(", ")
          @ahead.note(
            @context, "task_changed", step.words, title: titles, who: step.assignee || step.queue, due: step.due
          )
          {"tasks" => changed.map(&:id)}
        end

        def begin_kit(step)
          @ahead.note(@context, "kit", step.words)
          @kits.begin(step, @context) if own?(step.record) && step.tasks
          {}
        end

        def begin_ladder(step)
          ladder = @context.rule.action(@context.rule.row_index(@context.branch), @number)
          made = @context.run.fetch([@context.branch, step.on], [])
          ids = (step.on == "this") ? [event.detail.dig("task", "id")] : made
          open = ids.filter_map { |id| @copy.task(id) }.select(&:open?)
          open.each { |task| later("ladder", task, ladder.due(0, @copy.seen(task, at), since: at)) }
          {}
        end

        def leave_rest(step)
          @ahead.note(@context, "wait", step.words)
          task = event.detail["task"] && @copy.task(event.detail["task"]["id"])
          goes_on = task if task&.open? || @context.rule.kind.task?
          later("wait", goes_on, step.until_at, before: event.before, origin:)
          {}
        end

        private

        def refused?(plan, rule, event)
          own = plan.steps.filter_map do |_, _, step|
            step.values if step.is_a?(Effects::ChangeRecord) && own?(step.record)
          end
          own.any? && @changes.refused?(own.inject(:merge), depth: event.depth + 1, cause: rule.id)
        end

        def at = @ahead.at
        def event = @context.event
        def place = [@context.branch, @number]
        def own?(target) = target == @copy.id
        def about(task) = Facts.of_task(@copy.seen(task, at), at:)

        def tell(step, who: nil)
          @ahead.note(@context, step.action, step.words, who:)
          {}
        end

        def told(what, task)
          @ahead.note_task(@context, what, task)
          {}
        end

        def ask(task)
          who = event.who
          words = "#{@schema.name_of(who)} is asked about a task “#{task.title}”"
          @ahead.note(@context, "proposal", words, title: task.title, who:, due: task.due)
          {}
        end

        def happened(what, before: @copy.image, detail: {})
          @copy.happened(what, at, before:, context: @context, detail:)
          {}
        end

        def linked(what, kind, title, field, more = {})
          happened(what, detail: {"kind" => kind, "title" => title, "field" => field, **more}.compact)
        end

        # What the event was, for the rest of the row; behind a second wait still the first event.
        def origin
          happened = {"what" => event.what, "who" => event.who, "at" => Reading.moment(event.at)}
          event.detail["origin"] || {**happened, "detail" => event.detail}
        end

        def later(purpose, task, due, **more)
          @timers.add(
            purpose:, rule: @context.rule, task: task&.id, due:, since: at, branch: @context.branch,
            action: @number, step: 0, depth: event.depth, run: @context.run, **more
          )
        end
      end
    end
  end
end
