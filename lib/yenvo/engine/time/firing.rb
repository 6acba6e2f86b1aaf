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
        late = now - due > LATE_AFTER
        said = {
          "rule" => row[:rule_id], "version" => row[:version_id], "name" => name, "due" => Core::Reading.moment(due),
          "late" => late ? ((now - due) / 60).ceil : nil
        }
        before = row[:data] && JSON.parse(row[:data])["before"]
        cause = Store::Journal::Cause.house(late ? now : due, depth: row[:depth])
        [
          cause,
          {
            record_id: Store::Lane.record(row[:record_id]), kind: row[:record_id].negative? ? nil : row[:kind],
            task_id: row[:task_id].zero? ? nil : row[:task_id], before:, detail: said.merge(detail).compact
          }
        ]
      end

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
        @root.timers.hold(paused.map { |row| row[:id] })
        rows = present(rows)
        kept = rows.group_by { |row| row[:purpose] }
        (
          of_rules(kept.fetch("record", []) + kept.fetch("task", []), states, now) +
            waits(kept.fetch("wait", []), now) + ladders(kept.fetch("ladder", []), now) +
            calendars(kept.fetch("rule", []), states, now)
        ).sort_by { |row, _| [row[:due_at], row[:id]] }
      end

      # Locks the records against being taken away until all is written; timers of those that are gone go too.
      def present(rows)
        ids = rows.filter_map { |row| Store::Lane.record(row[:record_id]) }.uniq
        @images = ids.empty? ? {} : @root.records.held(ids)
        rows, gone = rows.partition { |row| !row[:record_id].positive? || @images.key?(row[:record_id]) }
        @root.timers.delete(gone.map { |row| row[:id] })
        rows
      end

      # A row of an earlier version fires as that, if its moment came before the next one was published; else it is
      # looked at again.
      def of_rules(rows, states, now)
        fire, look =
          rows.partition do |row|
            !row[:look] && (state = states[row[:rule_id]]) &&
              (state[:version_id] == row[:version_id] || row[:due_at] <= state[:published_at])
          end
        look_again(look, states, now)
        tasks = @root.tasks.images(fire.map { |row| row[:task_id] }, now)
        fire, over = fire.partition { |row| row[:task_id].zero? || tasks.dig(row[:task_id], "open") }
        @root.timers.delete(over.map { |row| row[:id] })
        rules = @root.in_force.compiled(fire.map { |row| row[:version_id] }.uniq)
        set_aside(fire.reject { |row| rules[row[:version_id]] })
        fire.filter_map do |row|
          (rule = rules[row[:version_id]]) && [row, {"timer" => rule.timing.name, "task" => tasks[row[:task_id]]}]
        end
      end

      # A version that does not fit the set-up any more fires nothing; its timers are kept for when it is mended.
      def set_aside(rows) = @root.timers.hold(rows.map { |row| row[:id] })

      # What an earlier version set is worked out as of the publication of this one, so that a moment that has come
      # since counts.
      def look_again(rows, states, now)
        book = @root.in_force.timed(@root.epoch)
        known, gone = rows.partition { |row| book.find(row[:rule_id]) }
        @root.timers.delete(gone.map { |row| row[:id] })
        # Until it is worked out anew, such a row must not be taken for one that is overdue.
        @root.timers.update(known.to_h { |row| [row[:id], {due_at: nil, look: false}] })
        @root.upkeep.work_out(
          known.map do |row|
            place(
              book.find(row[:rule_id]), row,
              [row[:look] ? row[:due_at] : states.dig(row[:rule_id], :published_at), now].compact.min
            )
          end
        )
      end

      def place(rule, row, at) =
        Store::TimerPlace.new(rule:, record: row[:record_id], task: row[:task_id], at:, since: nil)

      # Each wait is looked at again before it ends: its condition may not hold any more, its date may have moved.
      def waits(rows, now)
        over = @root.upkeep.over(rows, at: now)
        tasks = @root.tasks.images(rows.map { |row| row[:task_id] }, now)
        ready, rest = rows.partition { |row| over[row[:id]] && over[row[:id]][0] <= now && over[row[:id]][1] != "look" }
        @root.timers.update(
          rest.select { |row| over[row[:id]] }
            .to_h { |row| [row[:id], {due_at: over[row[:id]][0], look: over[row[:id]][1] == "look"}] }
        )
        set_aside(rest.reject { |row| over[row[:id]] })
        ready.map do |row|
          [
            row.merge(over: over[row[:id]][0]),
            {
              "timer" => "wait", "over_by" => over[row[:id]][1], "origin" => JSON.parse(row[:data]).slice(*ORIGIN),
              "task" => tasks[row[:task_id]], **of_run(row)
            }.compact
          ]
        end
      end

      def of_run(row) =
        {"run" => row[:run_id], "branch" => row[:branch], "action" => row[:action], "step" => row[:step]}

      # A step whose date has moved waits on; one that is taken makes room for the next.
      def ladders(rows, now)
        tasks = @root.tasks.images(rows.map { |row| row[:task_id] }, now)
        rules = @root.in_force.compiled(rows.map { |row| row[:version_id] }.uniq)
        rows.filter_map do |row|
          task = tasks[row[:task_id]]
          ladder = ladder_of(row, rules)
          next set_aside([row]) && nil unless ladder
          next @root.timers.delete([row[:id]]) && nil unless task && task["open"]

          due = ladder.due(row[:step], task, since: row[:since])
          next @root.timers.update(row[:id] => {due_at: due, look: false}) && nil unless due && due <= now

          [row.merge(over: due, next_step: [ladder, task]), {"timer" => "ladder", "task" => task, **of_run(row)}]
        end
      end

      def ladder_of(row, rules)
        rule = rules[row[:version_id]]
        index = rule&.row_index(row[:branch])
        index && rule.action(index, row[:action])
      end

      def calendars(rows, states, now)
        rows.filter_map do |row|
          rule = @root.in_force.compiled([row[:version_id]])[row[:version_id]]
          next set_aside([row]) && nil unless rule
          next @root.timers.delete([row[:id]]) && nil unless states.dig(row[:rule_id], :version_id) == row[:version_id]

          @root.timers.update(
            row[:id] => {
              due_at: rule.timing.next_after([row[:due_at], now].max), look: false,
              fired_for: row[:look] ? row[:fired_for] : row[:due_at]
            }
          )
          next if row[:look] || row[:fired_for] == row[:due_at]
          next row, {"timer" => "schedule"} if rule.timing.once?

          @root.jobs.begin_schedule(rule, due: row[:due_at], now:) && nil
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
        climbing, done =
          rows.reject { |row| row[:purpose] == "rule" }
            .partition { |row| row[:next_step] && row[:step] + 1 < row[:next_step][0].steps.size }
        climb(climbing, now)
        @root.timers.fired(done)
        again = done.select { |row| Store::Timers::OF_RULES.include?(row[:purpose]) }
        book = @root.in_force.timed(@root.epoch)
        again =
          again.filter_map do |row|
            (rule = book.find(row[:rule_id])) && rule.timing.again? && place(rule, row, [now, row[:due_at]].max)
          end
        @root.upkeep.work_out(again)
      end

      # The next steps count from the tasks as these left them.
      def climb(rows, now)
        tasks = @root.tasks.images(rows.map { |row| row[:task_id] }, now)
        open, over = rows.partition { |row| tasks.dig(row[:task_id], "open") }
        @root.timers.delete(over.map { |row| row[:id] })
        @root.timers.update(open.to_h { |row| [row[:id], next_step(row, tasks[row[:task_id]], now)] })
      end

      def next_step(row, task, now)
        ladder, = row[:next_step]
        since = [row[:over], now - LATE_AFTER].max
        {step: row[:step] + 1, since:, due_at: ladder.due(row[:step] + 1, task, since:), look: false}
      end
    end
  end
end
