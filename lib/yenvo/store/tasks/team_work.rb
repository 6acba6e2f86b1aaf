# frozen_string_literal: true

module Yenvo
  module Store
    # The lead's view: who has how much to do, what was done and how long it took, who is away, and passing on.
    class TeamWork < Base
      DAYS = 30
      MOST_DONE = 50_000
      # @param sight [Sight, nil] of who asks; nil for all tasks
      def initialize(root, sight = nil)
        super(root)
        @sight = sight
      end

      BY = {"person" => :assignee, "team" => :team, "queue" => :queue, "rule" => :rule_id}.freeze

      # @param by [String] one of BY
      # @return [Array<Hash>] key, open, late, done (in the last days), median_minutes (working time), load for persons
      def figures(by, now:)
        column = BY.fetch(by)
        keys = keys(by)
        open = open_figures(column, keys, now)
        done = done_figures(column, keys, now)
        loads = (by == "person") ? root.desks.loads(keys, now:) : {}
        (keys & (open.keys | done.keys | ((by == "rule") ? [] : keys))).map do |key|
          {
            key:, **open.fetch(key, {open: 0, late: 0}), **done.fetch(key, {done: 0, median_minutes: nil}),
            load: loads[key]
          }
        end
      end

      # @return [Hash{String => Integer}] by person, open tasks about records that they do not see any more, of those
      #   that whoever asks sees
      def out_of_sight
        hidden = schema.kinds.each_value.reject { |kind| kind.seen_by == "everyone" }.map(&:key)
        held = root.task_rows.holders(hidden).select { |one| @sight.nil? || sees?(@sight.access, one) }
        lost = held.reject { |one| sees?(schema.access(one[:assignee]), one) }
        lost.group_by { |one| one[:assignee] }.transform_values { |all| all.sum { |one| one[:count] } }
      end

      # @return [Array<Hash>] person, until (Date): who is away today, or will be within two weeks (from)
      def away(today)
        schema.people.each_value.select(&:active).filter_map do |person|
          from, to = calendar.absences_of(person.key).select { |_, last| last >= today }.min_by(&:first)
          {person: person.key, from:, until: to} if from && from <= today + 14
        end
      end

      # What would become of the open tasks of a person if they were all passed on.
      # @param to [Hash] assignee, queue, or team and team_way
      # @return [Array<Hash>] row of the task, and to whom: person or queue
      def preview(person, to, cause:)
        rows = nil
        db.transaction(savepoint: true) do
          rows =
            pass_all(person, to, cause:)[0].map { |after| {task: after, to: after[:assignee] || after[:queue]} }
          raise Sequel::Rollback
        end
        rows
      end

      # Passes on all open tasks of a person.
      # @return [Array(Array<Hash>, Array<Hash>)] rows after it, and what was refused
      def pass_all(person, to, cause:)
        root.transaction do
          ids = tasks.where(assignee: person, open: true).order(:due_at, :id).limit(Tasks::SEVERAL).select_map(:id)
          root.tasks.several(ids) { |id| root.tasks.pass_on(id, cause:, **to) }
        end
      end

      private

      def sees?(access, held) = access.may?(:seen_by, schema.kind(held[:kind]), held[:owner])

      def tasks = @sight ? @sight.narrow_tasks(db[:tasks]) : db[:tasks]

      def keys(by)
        case by
        # Whoever has left stays in sight until nothing is left of theirs.
        when "person" then schema.people.each_value.select(&:at_work?).map(&:key) + Worklist.new(root,
          @sight).left_behind.keys
        when "team" then schema.teams.keys
        when "queue" then schema.queues.keys
        else db[:rules].order(:position).select_map(:id)
        end
      end

      def open_figures(column, keys, now)
        late = Sequel.function(:sum, Sequel.case([[Sequel[:due_at] <= now, 1]], 0))
        tasks.where(column => keys, :open => true).group(column)
          .select(Sequel[column].as(:key), Sequel.function(:count).*.as(:open), late.as(:late)).all
          .to_h { |row| [row[:key], {open: row[:open], late: row[:late].to_i}] }
      end

      def done_figures(column, keys, now)
        since = now - (DAYS * 86_400)
        rows =
          tasks.where { Sequel[:done_at] >= since }.where(state: "done").reverse(:done_at, :id).limit(MOST_DONE)
            .select_map([column, :took_minutes])
        rows.group_by(&:first).slice(*keys)
          .transform_values { |all| {done: all.size, median_minutes: median(all.filter_map(&:last))} }
      end

      def median(numbers)
        return if numbers.empty?

        sorted = numbers.sort
        middle = sorted.size / 2
        sorted.size.odd? ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2.0
      end
    end
  end
end
