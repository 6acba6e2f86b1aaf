# frozen_string_literal: true

module Yenvo
  module Engine
    # What timers that are set would do when their moments come, as things stand: for the next firings of a rule, and
    # for what comes to a person by itself. Writes nothing.
    class Forecast
      MOST = 300
      # So many records are looked at for one day of a schedule.
      MOST_OF_SCHEDULE = 200

      # One firing. at: Time; rule: Core::CompiledRule; record: id or nil; title: of the record, or nil; task: title of
      # the task it is about, or nil; purpose: see Store::Timers; plan: Core::Plan, or nil where it cannot be planned;
      # error: why not.
      One = Core::Value.define(:at, :rule, :record, :title, :task, :purpose, :plan, :error)

      # @param root [Store::Root]
      # @param now [Time]
      def initialize(root, now:)
        @root = root
        @now = now
      end

      # @param rule_id [Integer]
      # @return [Array<One>] the next firings, for a schedule its next days
      def of_rule(rule_id, limit: 20)
        calendar = @root.in_force.timed(@root.epoch).find(rule_id)
        days =
          (
            if calendar&.timing&.per == :rule
              calendar.timing.coming(@now, limit)
                .map do |at|
                  One.new(
                    at:, rule: calendar, record: nil, title: nil, task: nil, purpose: "rule", plan: nil, error: nil
                  )
                end
            else
              []
            end
          )
        (days + ones(@root.timers.next_of_rule(rule_id, limit:))).sort_by(&:at).first(limit)
      end

      # @param person [String]
      # @param till [Time]
      # @return [Array<Array(One, Core::PlannedTask)>] tasks that would come to a person, in order
      def to_person(person, till:, limit: 30)
        found = ones(@root.timers.coming(from: @now, till:, limit: MOST)) + schedules(till)
        found.sort_by(&:at).flat_map { |one| one.plan&.run? ? one.plan.tasks.map { |_, _, task| [one, task] } : [] }
          .select { |_, task| task.assignee == person }.first(limit)
      end

      private

      def ones(rows)
        states = @root.in_force.states
        rows = rows.select { |row| states.dig(row[:rule_id], :state) == "on" && row[:purpose] != "rule" }
        rules = @root.in_force.of_rows(rows)
        tasks = @root.tasks.images(rows.map { |row| row[:task_id] }, @now)
        images = @root.records.images(rows.filter_map { |row| Store::Lane.record(row[:record_id]) })
        list =
          rows.filter_map do |row|
            rule, task, image = rules[row[:version_id]], tasks[row[:task_id]], images[row[:record_id]]
            there = (row[:task_id].zero? || task&.fetch("open")) && (row[:record_id].negative? || image)
            next unless rule && there

            event = event(row, image || {}, task)
            [row, rule, rule.kind.task? ? event.of_task : event]
          end
        planned(list)
      end

      def event(row, image, task)
        plain = image.except("kind")
        data = Firing.data(row)
        timer = %w[wait ladder].include?(row[:purpose]) ? row[:purpose] : "timer"
        said = {"rule" => row[:rule_id], "task" => task, "timer" => timer}
        said.update(%i[branch action step].to_h { |name| [name.to_s, row[name]] })
        said.update("origin" => data.slice(*Firing::ORIGIN), "over_by" => "limit") if timer == "wait"
        Core::Event.new(
          id: nil, what: "timer_fired", kind: image["kind"], record_id: Store::Lane.record(row[:record_id]),
          before: data["before"] || plain, after: plain, who: nil, at: [row[:due_at], @now].max, depth: row[:depth],
          detail: said.compact
        )
      end

      # @param list [Array<Array(Hash, Core::CompiledRule, Core::Event)>]
      def planned(list)
        needs = list.to_h { |_, rule, event| [event, rule.needs_to_plan] }.compare_by_identity
        facts = @root.snapshots.facts(needs.keys, desk: @root.desks.look(now: @now), &needs)
        seen = list.zip(facts)
        met = seen.map { |(_, rule, event), one| [{record_id: event.record_id, at: event.at}, one, rule] }
        # What ran before is asked once for all.
        stretch = Stretch.new(@root, met, @now)
        seen.map { |(row, rule, event), one| one(row, rule, event, one, stretch) }
      end

      def one(row, rule, event, facts, stretch)
        shown = {
          at: event.at, rule:, record: event.record_id, title: title(event, facts),
          task: event.detail.dig("task", "title"), purpose: row[:purpose]
        }
        One.new(
          **shown, plan: rule.plan(facts, now: event.at) { stretch.over?(rule, facts, rule.once_key(facts)) },
          error: nil
        )
      rescue Core::Error => error
        One.new(**shown, plan: nil, error: error.message)
      end

      # @return [String, nil] of the record
      def title(event, facts) =
        (event.kind == Core::Schema::Subjects::TASK) ? facts.linked.dig(event.record_id, "title") : event.after["title"]

      # The next day of each schedule that is for each record.
      def schedules(till)
        states = @root.in_force.states
        rules = @root.in_force.timed(@root.epoch).calendars
        rules.select { |rule| states.dig(rule.id, :state) == "on" }.flat_map do |rule|
          due_at = rule.timing.next_after(@now)
          next [] if due_at.nil? || due_at > till

          ids = @root.records.ids_of(rule.kind.key, after: nil, limit: MOST_OF_SCHEDULE, pins: rule.pins)
          row = {purpose: "rule", rule_id: rule.id, due_at:, depth: 0}
          planned(@root.records.images(ids).map { |id, image| [row, rule, event({**row, record_id: id}, image, nil)] })
        end
      end
    end
  end
end
