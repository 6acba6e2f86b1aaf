# frozen_string_literal: true

module Yenvo
  module Engine
    # One turn of timers: those whose moment has come fire, in order, in one transaction with what their rules do.
    # Promise: a timer fires once for a moment, whatever dies when. Its row is locked while it fires and moves on in the
    # same transaction.
    class Firing
      # A timer that fires later than this is marked late, and fires as of now.
      LATE_AFTER = 60
      ORIGIN = %w[what who at detail].freeze

      # @param row [Hash] of timers
      # @param detail [Hash] what its entry says besides
      # @return [Array(Store::Journal::Cause, Hash)]
      def self.entry(row, detail, name, now)
        due = row[:over] || row[:due_at]
        late = now - due if now - due > LATE_AFTER
        said = {
          "rule" => row[:rule_id], "version" => row[:version_id], "name" => name, "due" => Core::Reading.moment(due),
          "late" => late && (late / 60).ceil
        }
        about = {
          record_id: Store::Lane.record(row[:record_id]), kind: row[:record_id].negative? ? nil : row[:kind],
          task_id: row[:task_id].nonzero?, before: data(row)["before"], detail: {**said, **detail}.compact
        }
        [Store::Journal::Cause.house(late ? now : due, depth: row[:depth]), about]
      end

      # @param row [Hash] of timers
      # @return [Hash] what is kept with it of the event that it goes on from
      def self.data(row) = row[:data] ? JSON.parse(row[:data]) : {}

      # @param root [Store::Root]
      # @param turn [Turn]
      def initialize(root, turn)
        @root = root
        @turn = turn
      end

      # @param limit [Integer] timers at most
      # @param now [Time]
      # @return [Integer] rows dealt with
      def take(limit:, now:)
        # Where the last look found something, there is mostly more.
        return 0 unless @busy || @root.timers.due?(now)

        dealt = Turn.with_care { |careful| claim(limit, now, careful) }
        @busy = dealt.positive?
        dealt
      end

      private

      def claim(limit, now, careful)
        @careful = careful
        @root.transaction do
          rows = @root.timers.claim(limit:, now:)
          next 0 if rows.empty?

          # Read first, so that the epoch is known to all that follows.
          @root.schema
          states = @root.in_force.states
          fire(see_to(rows, states, now), states, now)
          rows.size
        end
      end

      # Sees to all rows that are not to fire: those of paused rules are set aside, those that only look again are
      # worked out anew, those of records that are gone go.
      # @return [Array<Array(Hash, Hash)>] the rows that are to fire, in order, each with what its entry says besides
      def see_to(rows, states, now)
        paused, rows = rows.partition { |row| states.dig(row[:rule_id], :state) == "paused" }
        set_aside(paused)
        of = present(rows).group_by { |row| row[:purpose] }
        of.default = []
        found = of_rules(of["record"] + of["task"], states, now) + waits(of["wait"], now) + ladders(of["ladder"], now)
        (found + calendars(of["rule"], states, now)).sort_by { |row, _| row.values_at(:due_at, :id) }
      end

      # Locks the records against being taken away until all is written; timers of those that are gone go too.
      def present(rows)
        ids = rows.filter_map { |row| Store::Lane.record(row[:record_id]) }.uniq
        @images = ids.empty? ? {} : @root.records.held(ids)
        rows, gone = rows.partition { |row| !row[:record_id].positive? || @images.key?(row[:record_id]) }
        drop(gone)
        rows
      end

      # A row of an earlier version fires as that, if its moment came before the next one was published; else it is
      # looked at again.
      def of_rules(rows, states, now)
        fire, look = rows.partition { |row| fires?(row, states[row[:rule_id]]) }
        look_again(look, states, now)
        tasks = tasks_of(fire, now)
        fire, over = fire.partition { |row| row[:task_id].zero? || tasks.dig(row[:task_id], "open") }
        drop(over)
        rules = @root.in_force.of_rows(fire)
        fire, unfit = fire.partition { |row| rules[row[:version_id]] }
        set_aside(unfit)
        fire.map { |row| [row, {"timer" => rules[row[:version_id]].timing.name, "task" => tasks[row[:task_id]]}] }
      end

      def fires?(row, state)
        return false if row[:look] || state.nil?

        state[:version_id] == row[:version_id] || row[:due_at] <= state[:published_at]
      end

      def tasks_of(rows, now) = @root.tasks.images(rows.map { |row| row[:task_id] }, now)
      def drop(rows) = @root.timers.delete(rows.map { |row| row[:id] })

      # A version that does not fit the set-up any more fires nothing; its timers are kept for when it is mended.
      def set_aside(rows) = @root.timers.hold(rows.map { |row| row[:id] })

      # What an earlier version set is worked out as of the publication of this one, so that a moment that has come
      # since counts.
      def look_again(rows, states, now)
        book = @root.in_force.timed(@root.epoch)
        known, gone = rows.partition { |row| book.find(row[:rule_id]) }
        drop(gone)
        # Until it is worked out anew, such a row must not be taken for one that is overdue.
        @root.timers.update(known.to_h { |row| [row[:id], {due_at: nil, look: false}] })
        places =
          known.map do |row|
            since = row[:look] ? row[:due_at] : states.dig(row[:rule_id], :published_at)
            place(book.find(row[:rule_id]), row, [since, now].compact.min)
          end
        @root.upkeep.work_out(places)
      end

      def place(rule, row, at) =
        Store::TimerPlace.new(rule:, record: row[:record_id], task: row[:task_id], at:)

      # Each wait is looked at again before it ends: its condition may not hold any more, its date may have moved.
      def waits(rows, now)
        over = @root.upkeep.over(rows, at: now)
        tasks = tasks_of(rows, now)
        known, unfit = rows.partition { |row| over[row[:id]] }
        set_aside(unfit)
        ready, rest = known.partition { |row| over[row[:id]][0] <= now && over[row[:id]][1] != "look" }
        @root.timers.update(
          rest.to_h { |row| over[row[:id]].then { |moment, by| [row[:id], {due_at: moment, look: by == "look"}] } }
        )
        ready.map do |row|
          moment, by = over[row[:id]]
          said = {
            "timer" => "wait", "over_by" => by, "origin" => Firing.data(row).slice(*ORIGIN),
            "task" => tasks[row[:task_id]], **of_run(row)
          }
          [row.merge(over: moment), said.compact]
        end
      end

      def of_run(row) =
        {"run" => row[:run_id], "branch" => row[:branch], "action" => row[:action], "step" => row[:step]}

      # A step whose date has moved waits on; one that is taken makes room for the next.
      def ladders(rows, now)
        tasks = tasks_of(rows, now)
        rules = @root.in_force.of_rows(rows)
        rows.filter_map do |row|
          task = tasks[row[:task_id]]
          ladder = ladder_of(row, rules)
          next set_aside([row]) && nil unless ladder
          next drop([row]) && nil unless task && task["open"]

          due = ladder.due(row[:step], task, since: row[:since])
          next @root.timers.update(row[:id] => {due_at: due, look: false}) && nil unless due && due <= now

          next_step = ladder if ladder.steps[row[:step] + 1]
          [row.merge(over: due, next_step:), {"timer" => "ladder", "task" => task, **of_run(row)}]
        end
      end

      def ladder_of(row, rules)
        rule = rules[row[:version_id]]
        index = rule&.row_index(row[:branch])
        index && rule.action(index, row[:action])
      end

      def calendars(rows, states, now)
        rules = @root.in_force.of_rows(rows)
        rows.filter_map do |row|
          rule = rules[row[:version_id]]
          next set_aside([row]) && nil unless rule
          next drop([row]) && nil unless states.dig(row[:rule_id], :version_id) == row[:version_id]

          due = row[:due_at]
          fresh = !row[:look] && row[:fired_for] != due
          next_at = rule.timing.next_after([due, now].max)
          @root.timers.update(
            row[:id] => {due_at: next_at, look: false, fired_for: row[:look] ? row[:fired_for] : due}
          )
          next unless fresh
          next row, {"timer" => "schedule"} if rule.timing.once?

          @root.jobs.begin_schedule(rule, due:, now:) && nil
        end
      end

      def fire(list, states, now)
        return if list.empty?

        entries =
          @root.journal.add_fired(
            list.map { |row, detail| Firing.entry(row, detail, states.dig(row[:rule_id], :name), now) }
          )
        @turn.settle(entries, now, images: @images, careful: @careful)
        move_on(list.map(&:first), now)
      end

      def move_on(rows, now)
        rows = rows.reject { |row| row[:purpose] == "rule" }
        climbing, done = rows.partition { |row| row[:next_step] }
        climb(climbing, now)
        @root.timers.fired(done)
        book = @root.in_force.timed(@root.epoch)
        again =
          done.filter_map do |row|
            rule = book.find(row[:rule_id]) if Store::Timers::OF_RULES.include?(row[:purpose])
            place(rule, row, [now, row[:due_at]].max) if rule&.timing&.again?
          end
        @root.upkeep.work_out(again)
      end

      # The next steps count from the tasks as these left them.
      def climb(rows, now)
        tasks = tasks_of(rows, now)
        open, over = rows.partition { |row| tasks.dig(row[:task_id], "open") }
        drop(over)
        @root.timers.update(open.to_h { |row| [row[:id], next_step(row, tasks[row[:task_id]], now)] })
      end

      def next_step(row, task, now)
        since = [row[:over], now - LATE_AFTER].max
        step = row[:step] + 1
        {step:, since:, due_at: row[:next_step].due(step, task, since:), look: false}
      end
    end
  end
end
