# frozen_string_literal: true

module Yenvo
  module Core
    class Ahead
      # The timers of the copy, kept by the same timings as those of the record itself.
      class Pending
        # purpose: "record", "task", "rule", "wait" or "ladder"; kept: Timing::Keeping, for those of rules; run: what
        # the row of a wait or ladder has made so far.
        Timer =
          Struct.new(
            :order, :purpose, :rule, :task, :kept, :due, :look, :since, :branch, :action, :step, :depth, :before,
            :origin, :run, :over_by, keyword_init: true
          )

        # @param rules [Rules]
        # @param copy [Copy]
        # @param start [Start]
        # @param now [Time]
        def initialize(rules, copy, start, now)
          @rules = rules
          @copy = copy
          @timers = []
          start.timers.each do |row|
            add(
              **row.slice(
                :purpose, :rule, :task, :due, :look, :since, :branch, :action, :step, :depth, :before, :origin, :run
              ),
              kept: keeping(row)
            )
          end
          rules.calendars.each { |rule| add(purpose: "rule", rule:, due: rule.timing.next_after(now)) }
        end

        # @return [Timer]
        def add(**given)
          Timer.new(order: @timers.size, **given).tap { |timer| @timers << timer }
        end

        def next_due = @timers.filter_map(&:due).min

        # Takes the next timer that is due; rows that only look again, or whose date has moved, are seen to on the way.
        # @return [Timer, nil]
        def take(at)
          loop do
            timer =
              @timers.select { |one| one.due && one.due <= at && one.purpose != "rule" }
                .min_by { |one| [one.due, one.order] } ||
              @timers.select { |one| one.due && one.due <= at }.min_by { |one| [one.due, one.order] } or return
            return timer if ready?(timer, at)
          end
        end

        # @return [Array(Event, CompiledRule)] what happens when a timer fires; nil when it does not concern the record
        def event(timer, at)
          detail = {
            "rule" => timer.rule.id, "timer" => name(timer),
            "task" => timer.task && (task = @copy.task(timer.task)) && @copy.seen(task, at), **of_run(timer)
          }.compact
          event =
            Event.new(
              id: nil, what: "timer_fired", kind: @copy.kind.key, record_id: @copy.id,
              before: timer.before || @copy.image, after: @copy.image, who: nil, at:, depth: timer.depth || 0,
              detail:
            )
          [timer.rule.kind.task? ? event.of_task : event, timer.rule]
        end

        # Moves a timer on after it has fired.
        def fired(timer, at)
          case timer.purpose
          when "wait" then timer.due = nil
          when "ladder" then climb(timer, at)
          when "rule" then timer.due = timer.rule.timing.next_after([timer.due, at].max)
          else moved_on(timer, at)
          end
        end

        # Works out anew what an event may have moved.
        def follow(event)
          return if event.what == "timer_fired"

          @rules.timed.each do |rule|
            restarts = rule.timing.restarts?(event)
            next dates_of_tasks(rule, event) unless restarts || rule.timing.touched?(event)

            keep(rule, task_of(rule, event), event.at, restarts ? event.at : nil)
          end
          @timers.each { |timer| look_at_wait(timer, event.at) if timer.purpose == "wait" && timer.due }
        end

        # Timers of tasks whose date is one of their record move with it.
        def dates_of_tasks(rule, event)
          return unless rule.kind.task? && event.what == "record_changed" && rule.timing.needs.any?

          @copy.tasks.select(&:open?).each { |task| keep(rule, task.id, event.at, nil) }
        end

        # Ladders and waits end with their task, and look again when its dates have moved.
        def task_changed(task, changed, at)
          return if (changed & %w[due state]).empty?

          @timers.each do |timer|
            next unless timer.task == task.id && %w[wait ladder].include?(timer.purpose)

            timer.due = task.open? ? at : nil
            timer.look = task.open?
          end
        end

        private

        def keeping(row) =
          if %w[record task].include?(row[:purpose])
            Timing::Keeping.new(
              **row.slice(:due, :look, :since, :fired_for), held: nil
            )
          end

        def name(timer) = %w[wait ladder].include?(timer.purpose) ? timer.purpose : timer.rule.timing.name

        def of_run(timer)
          return {} unless %w[wait ladder].include?(timer.purpose)

          {
            "branch" => timer.branch, "action" => timer.action, "step" => timer.step, "origin" => timer.origin,
            "over_by" => timer.over_by
          }
        end

        def ready?(timer, at)
          case timer.purpose
          when "wait" then wait_over?(timer, at)
          when "ladder" then step_due?(timer, at)
          when "rule" then true
          else
            return task_open?(timer) unless timer.look

            keep(timer.rule, timer.task, at, nil, timer.kept.with(due: nil, look: false))
            false
          end
        end

        def task_open?(timer)
          return true if timer.task.nil? || @copy.task(timer.task)&.open?

          timer.due = nil
          false
        end

        def action_of(timer)
          row = timer.rule.row_index(timer.branch)
          row && timer.rule.action(row, timer.action)
        end

        def wait_over?(timer, at)
          timer.due, timer.over_by = action_of(timer).due(look(timer, at), since: timer.since)
          timer.due <= at && timer.over_by != "look"
        end

        def look_at_wait(timer, at)
          return unless timer.task.nil? || timer.rule.kind.task? || @copy.task(timer.task)&.open?

          timer.due, timer.over_by = action_of(timer).due(look(timer, at), since: timer.since)
        end

        def look(timer, at) = @copy.look_for(timer.rule, timer.rule.kind.task? ? @copy.task(timer.task) : nil, at)

        def step_due?(timer, at)
          task = @copy.task(timer.task)
          timer.due = (action_of(timer).due(timer.step, @copy.seen(task, at), since: timer.since) if task&.open?)
          !timer.due.nil? && timer.due <= at
        end

        def climb(timer, at)
          ladder = action_of(timer)
          task = @copy.task(timer.task)
          timer.since = timer.due || at
          timer.step += 1
          timer.due =
            (
              if task&.open? && timer.step < ladder.steps.size
                ladder.due(timer.step, @copy.seen(task, at), since: timer.since)
              end
            )
        end

        def moved_on(timer, at)
          timer.kept = timer.kept.with(fired_for: timer.due, due: nil)
          timer.due = nil
          keep(timer.rule, timer.task, at, nil, timer.kept) if timer.rule.timing.again?
        end

        def task_of(rule, event) = (rule.timing.per == :task) ? event.detail.dig("task", "id") : nil

        # Where no day can be found there is no timer.
        def kept_of(...)
          Timing::Keeping.of(...)
        rescue Error
          nil
        end

        def keep(rule, task, at, since, kept = nil)
          return if rule.timing.per == :task && task.nil?

          timer =
            @timers.find { |one| one.rule.id == rule.id && one.task == task && %w[record task].include?(one.purpose) }
          found = @copy.task(task)
          fresh =
            kept_of(
              rule.timing, @copy.look_for(rule, found, at), kept: kept || timer&.kept, since:
            )
          timer ||= add(purpose: rule.timing.per.to_s, rule:, task:) if fresh
          return unless timer

          timer.rule = rule
          timer.kept = fresh
          timer.due = fresh&.due
          timer.look = fresh&.look
        end
      end
    end
  end
end
