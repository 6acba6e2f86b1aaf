# frozen_string_literal: true

module Yenvo
  module Engine
    # Gathers what is known of a record, and has the core carry it forward. Writes nothing.
    class LookingAhead
      MOST_TASKS = 1_000
      TASK = Core::Schema::Subjects::TASK

      # @param root [Store::Root]
      # @param now [Time]
      def initialize(root, now:)
        @root = root
        @now = now
      end

      # @param record_id [Integer]
      # @param days [Integer]
      # @param change [Hash{String => Object}, nil] what the record is thought to become now, plain
      # @param who [String, nil] who is thought to change it
      # @return [Core::Ahead::Result]
      # @raise [Store::NotFound]
      def on(record_id, days:, change: nil, who: nil)
        gather(record_id)
        Core::Ahead.new(@rules, @start, @root.schema, now: @now).run(
          till: @now + (days * 86_400), change:, who:
        )
      end

      # The same as it is and as it would be, from one look at the record.
      # @return [Array(Core::Ahead::Result, Core::Ahead::Result)]
      def compared(record_id, days:, change:, who:)
        gather(record_id)
        till = @now + (days * 86_400)
        [nil, change].map do |one|
          Core::Ahead.new(@rules, @start, @root.schema, now: @now).run(till:, change: one, who:)
        end
      end

      # How many rules in force watch the kind.
      # @return [Integer]
      attr_reader :watching

      private

      def gather(record_id)
        row = @root.records.row!(record_id)
        kind = row[:kind]
        @epoch = @root.epoch
        book = @root.in_force.book(@epoch)
        on = book.rules.map(&:id).to_set
        timed = @root.in_force.timed(@epoch)
        calendars = timed.calendars.select { |rule| rule.kind.key == kind }
        timers = [*timed.of(kind), *timed.of(TASK)]
        timers, calendars = [timers, calendars].map { |rules| rules.select { |rule| on.include?(rule.id) } }
        @rules = Core::Ahead::Rules.new(matcher: book.matcher, before: book.before(kind), timed: timers, calendars:)
        @watching = book.rules.count { |rule| [kind, TASK].include?(rule.kind.key) }
        @start = start(row, book, on)
      end

      def start(row, book, on)
        id, kind = row.values_at(:id, :kind)
        image = Store::Image.of(row)
        tasks = @root.task_rows.about(id).order(:id).limit(MOST_TASKS).all
        copies = @root.copies.running_on(id)
        timers = timers(row, on)
        facts = facts(image, kind, book, timers, copies)
        Core::Ahead::Start.new(
          image:, kind:, linked: facts.linked, related: facts.related, desk: facts.desk, timers:,
          tasks: tasks.map { |task| task(task, copies) }, copies: copies.map { |copy| copy.except(:id) },
          taken: @root.runs.once_keys(id), ran: ran(book, row),
          queue_teams: @root.people.queues.to_h { |queue| queue.values_at(:key, :team) }
        )
      end

      def facts(image, kind, book, timers, copies)
        event = Core::Event.look(kind, image, at: @now)
        asked = [*@rules.timed, *timers.map { |timer| timer[:rule] }].uniq
        wanted =
          [event, event.of_task].to_h do |view|
            key = view.kind
            rules = asked.select { |rule| rule.kind.task? == (key == TASK) }
            [view, [*book.needs(key), *book.needs_before(key), *rules.flat_map { |rule| needs(rule) }]]
          end
        wanted[event] += copies.flat_map { |copy| copy[:kit].needs }
        found = @root.snapshots.facts(wanted.keys, desk: @root.desks.look(now: @now)) { |view| wanted[view].uniq }
        found[0].with_linked(found[1].linked)
      end

      def needs(rule) =
        rule.needs_to_plan + rule.later.grep(Core::Actions::Wait).flat_map(&:needs_to_wait) +
          (rule.timing&.needs || [])

      def task(row, copies)
        {
          image: @root.tasks.seen(row, @now), due_at: row[:due_on] && row[:due_at], late_noted: row[:late_noted],
          made_at: row[:made_at], copy: copies.index { |copy| copy[:id] == row[:copy_id] }, kit_task: row[:kit_task],
          redated: row[:redated]
        }
      end

      def timers(row, on)
        rows = @root.timers.about(row[:id]).select { |timer| on.include?(timer[:rule_id]) }
        of_runs, of_rules = rows.partition { |timer| Store::Timers::OF_RUNS.include?(timer[:purpose]) }
        compiled = @root.in_force.of_rows(of_runs)
        timed = @rules.timed.to_h { |rule| [rule.id, rule] }
        found = of_runs.map { |timer| [timer, compiled[timer[:version_id]]] }
        found += of_rules.map { |timer| [timer, timed[timer[:rule_id]]] }
        found.select(&:last).map { |timer, rule| timer(timer, rule) }.sort_by { |timer| timer[:due] || Time.at(0) }
      end

      def timer(row, rule)
        data = Firing.data(row)
        {
          **row.slice(:purpose, :look, :since, :fired_for, :branch, :action, :step, :depth),
          rule:, task: row[:task_id].nonzero?, due: row[:due_at], run: nil, before: data["before"],
          origin: row[:data] && data.slice(*Firing::ORIGIN)
        }
      end

      def ran(book, row)
        paced = book.rules.select { |rule| rule.every_days && rule.kind.key == row[:kind] }
        return {} if paced.empty?

        @root.runs
          .event_times(paced.map { |rule| [rule.id, row[:id]] }, since: @now - (paced.map(&:every_days).max * 86_400))
          .group_by(&:first).transform_values { |rows| rows.map(&:last) }
      end
    end
  end
end
