# frozen_string_literal: true

module Yenvo
  module Core
    # What the rules and kits in force will do to one record if nothing changes: the same matching, planning and timing
    # as the live run, carried forward on a copy of the record in memory. Nothing is written.
    class Ahead
      MOST_MOMENTS = 2_000
      MOST_ITEMS = 400
      # A chain within one moment that does not come to its end.
      MOST_EVENTS = 500

      # One thing that lies ahead. at: Time; rule: Array(id, name) or nil; branch: label or nil; what: "task",
      # "task_changed", "task_late", "changed", "kit" or the name of another action; words: a sentence; title: of the
      # task, or nil; who:
      # key of the person or queue that gets it, or nil; due: Due or nil; depends: Array of sentences, the conditions on
      # which it still hangs; after: words of what it follows from in the chain, or nil; chained: whether an event set
      # it off and not a timer; about: id of another record that it is about, or nil.
      Item = Value.define(:at, :rule, :branch, :what, :words, :title, :who, :due, :depends, :after, :chained,
        about: nil) do
        # @return [Array] what makes it the same thing when two views are compared
        def key = [at, rule, branch, what, words, who, due&.moment]
      end

      # What was found. cut: whether there would have been more.
      Result = Value.define(:items, :cut)

      # @param rules [Rules]
      # @param start [Start]
      # @param schema [Schema]
      # @param now [Time]
      def initialize(rules, start, schema, now:)
        @rules = rules
        @schema = schema
        @at = now
        @copy = Copy.new(start, schema)
        @timers = Pending.new(rules, @copy, start, now)
        @items = []
        @changes = Changes.new(self, @copy, @timers, schema, rules)
        @kits = KitsGoing.new(self, @copy, @changes)
        @world = ThoughtWorld.new(self, @copy, @timers, schema, @changes, @kits)
      end

      attr_reader :at

      # @param till [Time]
      # @param change [Hash{String => Object}, nil] values that the record is thought to get now, plain
      # @param who [String, nil] person who is thought to change it
      # @return [Result]
      def run(till:, change: nil, who: nil)
        @changes.change(change, who:, depth: 0, cause: nil, context: nil) if change&.any?
        settle
        MOST_MOMENTS.times do
          moment = next_moment
          return finish(cut: false) if moment.nil? || moment > till
          return finish(cut: true) if @items.size >= MOST_ITEMS

          @at = [moment, @at].max
          step
        end
        finish(cut: true)
      end

      # Adds something to what was found.
      # @param context [Context, nil] what it comes from
      def note(context, what, words, title: nil, who: nil, due: nil, about: nil)
        @items << Item.new(
          at: @at, rule: context && [context.rule.id, context.rule.rule.name], branch: context&.branch, what:,
          words:, title:, who:, due:, about:, depends: context ? context.depends : [],
          after: context&.after, chained: context ? context.chained : false
        )
      end

      # @param task [PlannedTask]
      def note_task(context, what, task) =
        note(
          context, what, "Task “#{task.title}”", title: task.title, who: task.assignee || task.queue, due: task.due,
          about: (task.about if task.about.is_a?(Integer))
        )

      # What a step comes from. rule: CompiledRule; event: Event; branch: label; depends, after, chained: see Item; run:
      # what the steps of its row have made so far.
      Context = Value.define(:rule, :event, :branch, :depends, :after, :chained, :run)

      private

      def finish(cut:) = Result.new(items: @items.first(MOST_ITEMS).freeze, cut:)

      def next_moment = [@timers.next_due, @copy.next_late(@at)].compact.min

      # At one moment timers fire one after the other, each with all that it sets off; then tasks get late.
      def step
        while (timer = @timers.take(@at))
          fire(timer)
          settle
        end
        @copy.late_now(@at)
          .each do |task|
            note(
              nil, "task_late", "“#{task.image["title"]}” gets late", title: task.image["title"],
              who: task.image["assignee"]
            )
            @copy.happened("task_late", @at, task:, context: nil)
          end
        settle
      end

      def settle
        left = MOST_EVENTS
        while (event, context = @copy.next_event)
          break if (left -= 1).negative?

          meet(event, context)
          @kits.go_on(event, context)
          @timers.follow(event)
        end
      end

      # All that an event sets off is planned before any of it is done, as a worker does.
      def meet(event, context)
        plans =
          views(event).flat_map do |view|
            facts = @copy.facts(view)
            @rules.matcher.hits(facts).filter_map { |rule| (plan = planned(rule, facts)) && [rule, plan] }
          end
        plans.each do |rule, plan|
          @world.carry(plan, rule, event, after: context&.after || words_of(event), chained: true)
        end
      end

      # What happens to a task happens to its record and, for rules about tasks, to the task.
      def views(event) = event.what.start_with?("task_") ? [event, event.of_task] : [event]

      def fire(timer)
        event, rule = @timers.event(timer, @at)
        return unless event

        facts = @copy.facts(event)
        plan = planned(rule, facts) if Continuation.of?(event) || rule.hit(facts)
        @world.carry(plan, rule, event, after: after_of(timer), chained: false, run: timer.run) if plan
        @timers.fired(timer, @at)
      end

      def after_of(timer) =
        (timer.purpose == "ladder") ? "if “#{@copy.task(timer.task)&.image&.fetch("title", nil)}” is still open" : nil

      def planned(rule, facts)
        key = rule.once_key(facts)
        plan = facts.desk.attempt { rule.plan(facts, now: @at) { @copy.over?(rule, facts, key) } }
        return unless plan.run?

        @copy.ran(rule, key, facts.event.at)
        plan
      rescue Error
        # It would fail; there is nothing to show of it.
        nil
      end

      def words_of(event) = event.what.start_with?("task_") ? "“#{event.detail.dig("task", "title")}”" : nil
    end
  end
end
