# frozen_string_literal: true

module Yenvo
  module Store
    # Open tasks in the order in which they are due, and the search over all tasks.
    class Worklist < Base
      keeps :tasks

      PAGE = 100
      STATES = %w[open late started waiting done dropped].freeze
      DUE = %w[late today week later none starts].freeze
      SORTS = {"due" => %i[due_at id], "done" => %i[done_at id]}.freeze
      # The full-text index knows words of three letters and more.
      SHORT = 3

      # @param sight [Sight, nil] of who asks; nil for all tasks
      def initialize(root, sight = nil)
        super(root)
        @sight = sight
      end

      # @param filter [Hash{Symbol => Object}] assignee (key, or "nobody"), queue, team, rule, kit, kind, priority
      #   (name), state (see STATES), due (see DUE), text, record; what is nil is not asked
      # @param after [Hash, nil] moment (ISO) and id to go on from
      # @return [Array<Hash>] rows of tasks
      def list(filter, now:, after: nil, limit: PAGE)
        filter = filter.compact
        column = over?(filter) ? :done_at : :due_at
        found = parts(filter).flat_map { |part| page(narrowed(filter, now, part), column, after, limit) }
        found = found.sort_by { |row| row.values_at(column, :id) }
        (over?(filter) ? found.reverse : found).first(limit)
      end

      # @return [Array<Hash>] open tasks of a person, a queue or everybody
      def open(assignee: nil, queue: nil, rule: nil, after: nil, limit: PAGE, now: Time.at(0))
        list({assignee: queue ? "nobody" : assignee, queue:, rule:}, now:, after:, limit:)
      end

      # @return [Array<Hash>] what a person finished or dropped since, newest first
      def done(assignee:, since:, limit: PAGE)
        tasks.where(assignee:).where { Sequel[:done_at] >= since }.reverse(:done_at, :id).limit(limit).all
      end

      # @return [Boolean] whether a filter asks for tasks that are over, which stand newest first
      def over?(filter) = %w[done dropped].include?(filter[:state])

      # @return [Hash] open: number of a person's open tasks; late: of these, how many are late
      def counts(assignee, now:)
        mine = begun(tasks.where(assignee:, open: true), now)
        {open: mine.count, late: mine.where { Sequel[:due_at] <= now }.count}
      end

      # @return [Hash{String => Integer}] open tasks nobody has taken, by queue
      def queue_counts(queues) =
        tasks.where(queue: queues, open: true, assignee: nil).group_and_count(:queue).as_hash(:queue, :count)

      # @return [Array<Hash>] open tasks of a record; of those that are due together, in their places
      def of_record(id, limit: PAGE) =
        tasks.where(record_id: id, open: true).order(:due_at, Sequel.asc(:place, nulls: :last), :id).limit(limit)
          .all

      # @return [Integer]
      def count_of_record(id) = tasks.where(record_id: id, open: true).count

      # @return [Hash{String => Integer}] open tasks of persons who have left, by person
      def left_behind
        gone = schema.people.each_value.reject(&:active).map(&:key)
        if gone.empty?
          {}
        else
          tasks.where(assignee: gone, open: true).group_and_count(:assignee).as_hash(:assignee, :count)
        end
      end

      private

      # What hangs on nobody is asked for kind by kind where not all is seen: in the order of all tasks, many that are
      # hidden could lie between two that are not.
      def parts(filter)
        (wide?(filter) && hides?) ? @sight.parts_of_tasks(table) : [tasks]
      end

      def wide?(filter) = filter.except(:state, :due, :priority).empty? && WIDE.include?(filter[:state])
      def hides? = !(@sight.nil? || @sight.all?)
      WIDE = [nil, "open", "late"].freeze
      private_constant :WIDE

      def tasks = @sight ? @sight.narrow_tasks(table) : table

      # Those that are to be done by now: what starts later is not.
      def begun(found, now)
        today = root.calendar.date_of(now)
        found.where { (start_on =~ nil) | (start_on <= today) }
      end

      PLAIN = {queue: :queue, team: :team, rule: :rule_id, kit: :kit_id, kind: :kind, record: :record_id}.freeze
      private_constant :PLAIN

      def narrowed(filter, now, all)
        assignee, priority, due, text = filter.values_at(:assignee, :priority, :due, :text)
        found = by_state(all, filter[:state] || "open", now)
        found = found.where(assignee: (assignee == "nobody") ? nil : assignee) if assignee
        plain = filter.slice(*PLAIN.keys).transform_keys(PLAIN)
        found = found.where(plain) if plain.any?
        found = found.where(priority: Tasks::PRIORITIES.index(priority)) if priority
        found = by_due(found, due, now) if due
        text ? by_text(found, text) : found
      end

      def by_state(found, state, now)
        case state
        when "open" then found.where(open: true)
        when "late" then found.where(open: true).where { Sequel[:due_at] <= now }
        when "started", "waiting" then found.where(open: true, state:)
        else found.where(state:).exclude(done_at: nil)
        end
      end

      def by_due(found, due, now)
        calendar = root.calendar
        today = calendar.date_of(now)
        week = calendar.add_working_days(today, 5)
        tomorrow = calendar.zone.midnight(today + 1)
        after_week = calendar.zone.midnight(week + 1)
        case due
        when "late" then found.where { Sequel[:due_at] <= now }
        when "today" then found.where { (Sequel[:due_at] > now) & (Sequel[:due_at] <= tomorrow) }
        when "week" then found.where { (Sequel[:due_at] > tomorrow) & (Sequel[:due_at] <= after_week) }
        when "later" then found.where { (Sequel[:due_at] > after_week) & (Sequel[:due_at] < Tasks::NEVER) }
        when "starts" then found.where { Sequel[:start_on] > today }
        else found.where(due_at: Tasks::NEVER)
        end
      end

      # Every word must stand in title or text, or begin one there.
      def by_text(found, text)
        words = text.to_s.downcase.scan(/[[:alnum:]]+/).first(8)
        return found.where(false) if words.empty?

        long, short = words.partition { |word| word.size >= SHORT }
        tests = short.map { |word| root.task_rows.beginning(word) }
        tests << root.task_rows.in_index(long) if long.any?
        tests.inject(found) { |some, test| some.where(test) }
      end

      def page(found, column, after, limit)
        back = column == :done_at
        if after
          moment = Time.iso8601(after["due_at"])
          found = if back
            found.where { Sequel[column] <= moment }.where { (Sequel[column] < moment) | (Sequel[:id] < after["id"]) }
          else
            found.where { Sequel[column] >= moment }.where { (Sequel[column] > moment) | (Sequel[:id] > after["id"]) }
          end
        end
        (back ? found.reverse(column, :id) : found.order(column, :id)).limit(limit).all
      end
    end
  end
end
