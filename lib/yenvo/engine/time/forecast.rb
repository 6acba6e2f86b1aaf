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
        rules = @root.in_force.compiled(rows.map { |row| row[:version_id] }.uniq)
        tasks = @root.tasks.images(rows.map { |row| row[:task_id] }, @now)
        rows =
          rows.select { |row| rules[row[:version_id]] && (row[:task_id].zero? || tasks.dig(row[:task_id], "open")) }
        images = @root.records.images(rows.filter_map { |row| Store::Lane.record(row[:record_id]) })
        rows = rows.select { |row| row[:record_id].negative? || images[row[:record_id]] }
        planned(
          rows.map do |row|
            rule = rules[row[:version_id]]
            event = event(row, images.fetch(row[:record_id], {}), tasks[row[:task_id]])
            [row, rule, rule.kind.task? ? event.of_task : event]
          end
        )
      end

      def event(row, image, task)
        plain = image.except("kind")
        data = row[:data] ? JSON.parse(row[:data]) : {}
        said = {
          "rule" => row[:rule_id], "task" => task, "branch" => row[:branch], "action" => row[:action],
          "step" => row[:step]
        }
        said = if row[:purpose] == "wait"
          said.merge("timer" => "wait", "origin" => data.slice(*Firing::ORIGIN), "over_by" => "limit")
        else
          said.merge("timer" => (row[:purpose] == "ladder") ? "ladder" : "timer")
        end
        Core::Event.new(
          id: nil, what: "timer_fired", kind: image["kind"], record_id: Store::Lane.record(row[:record_id]),
          before: data["before"] || plain, after: plain, who: nil, at: [row[:due_at], @now].max, depth: row[:depth],
          detail: said.compact
        )
      end

      # @param list [Array<Array(Hash, Core::CompiledRule, Core::Event)>]
      def planned(list)
        rules = list.to_h { |_, rule, event| [event.object_id, rule] }
        facts =
          @root.snapshots
            .facts(list.map(&:last), desk: @root.desks.look(now: @now)) do |event|
              rules.fetch(event.object_id).needs_to_plan
            end
        met = list.zip(facts).map { |(_, rule, event), seen| [{record_id: event.record_id, at: event.at}, seen, rule] }
        # What ran before is asked once for all.
        stretch = Stretch.new(@root, met, @now)
        list.zip(facts).map { |(row, rule, event), seen| one(row, rule, event, seen, stretch) }
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
        @root.in_force.timed(@root.epoch).rules.select { |rule| rule.timing.per == :rule && !rule.timing.once? }
          .flat_map do |rule|
            at = rule.timing.next_after(@now)
            next [] if at.nil? || at > till || @root.in_force.states.dig(rule.id, :state) != "on"

            images =
              @root.records
                .images(@root.records.ids_of(rule.kind.key, after: nil, limit: MOST_OF_SCHEDULE, pins: rule.pins))
                .values
            planned(
              images.map do |image|
                [
                  {purpose: "rule"}, rule,
                  event({rule_id: rule.id, record_id: image["id"], due_at: at, depth: 0, purpose: "rule"}, image, nil)
                ]
              end
            )
          end
      end
    end
  end
end
