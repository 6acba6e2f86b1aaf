# frozen_string_literal: true

module Yenvo
  module Store
    # Keeps the timers of rules right: after something has happened to a record, those that it may have moved are worked
    # out again from the record as it stands. Nothing is gone through that did not change.
    class Upkeep < Base
      # @param events [Array<Core::Event>] that were settled, each with its image
      # @param now [Time]
      def follow(events, now:)
        book = root.in_force.timed(root.epoch)
        places = {}
        events.each { |event| touch(event, book, places) }
        dates_of_tasks(events, book, places)
        work_out(places.values)
        waits(events, book)
      end

      # @param after, till [Time]
      # @return [Time, nil] the next moment at which something happens of itself: a timer, a task that gets late, a day
      #   that makes worked-out fields another
      def next_moment(after:, till:)
        today = root.calendar.date_of(after)
        *moments, day =
          db.select(
            db[:timers].where { due_at > after }.select { min(:due_at) }.as(:timer),
            root.task_rows.next_late(after).as(:late), root.task_rows.next_reminder(after).as(:remind),
            db[:stale].where { on_date > today }.select { min(:on_date) }.as(:day)
          ).first.values
        [*moments, day && root.calendar.zone.midnight(day)].compact.select { |moment| moment <= till }.min
      end

      # Works timers out and writes those that differ.
      # @param places [Array<TimerPlace>]
      # @param building [String, nil] for rows of a version that was just published, what to do about moments that are
      #   past:
      #   "fire" or "skip"
      # @param images [Hash{Integer => Hash}, nil] of the records, where they are known
      def work_out(places, building: nil, images: nil)
        return if places.empty?

        differing = differing(places, building, images)
        root.timers.put(differing.filter_map(&:last))
        root.timers.delete(differing.filter_map { |row, wanted| row[:id] if wanted.nil? })
      end

      # Counts the timers that fire at another moment, seen with the set-up as it is now, than they are kept for.
      # @param now [Time]
      # @param most [Integer] timers that are looked at
      # @return [Array(Integer, Boolean)] how many, and whether some were not looked at
      def moving(now:, most:)
        left = most
        moved =
          root.in_force.timed(root.epoch).rules.sum do |rule|
            rows = root.timers.standing(rule.id, after: now, limit: left + 1)
            left -= rows.size
            (rule.timing.per == :rule) ? rescheduled(rule, rows, now) : rows.each_slice(1_000).sum { |some|
              moved(rule, some, now)
            }
          end
        [moved, left.negative?]
      end

      # @param places [Array<TimerPlace>]
      # @return [Array<Core::Facts, nil>] nil where record or task is gone
      def facts(places, images = nil) = seen_at(places, images) { |place| place.rule.timing.needs }

      # @return [Core::Event, nil] nil where the record is gone, or is of another kind than the rule is about
      def thought_at(place, image, task)
        detail = task ? {"task" => root.task_rows.seen(task, place.at)} : {}
        return thought(nil, {}, place.at, detail) if place.record.negative?

        fits = image && (place.rule.kind.task? || image["kind"] == place.rule.kind.key)
        thought(image["kind"], image.except("kind"), place.at, detail) if fits
      end

      # Waits are over when their condition comes true, and move with their date.
      # @param rows [Array<Hash>] of timers
      # @param at [Time] moment of looking
      # @return [Hash{Integer => Array(Time, String)}] when each is over and by what; nil for one whose rule is gone
      def over(rows, at:)
        rules = root.in_force.of_rows(rows)
        known = rows.filter_map { |row| (wait = wait_of(row, rules)) && [row, wait] }
        places = known.to_h { |row, wait| [place_of_wait(row, rules, at), wait] }.compare_by_identity
        seen = seen_at(places.keys) { |place| places[place].needs_to_wait }
        found = known.zip(seen).to_h { |(row, wait), facts| [row[:id], facts && over_of(wait, facts, row[:since])] }
        rows.to_h { |row| [row[:id], found[row[:id]]] }
      end

      def over_of(wait, facts, since)
        wait.due(facts, since:)
      rescue Breakage => error
        Breakage.sentence(error, record: facts.record_id)
        nil
      end

      # @return [Core::Actions::Wait, nil]
      def wait_of(row, rules)
        rule = rules[row[:version_id]]
        index = rule&.row_index(row[:branch])
        action = index && rule.action(index, row[:action])
        action if action.is_a?(Core::Actions::Wait)
      end

      private

      # @return [Array<Array(Hash, Hash)>] rows as they are and as they should be, nil for none, where the two differ
      def differing(places, building, images)
        rows = rows_of(places, images).to_h { |row| [[row[:rule_id], row[:record_id], row[:task_id]], row] }
        places.zip(facts(places, images)).filter_map do |place, seen|
          row = rows[[place.rule.id, place.record, place.task]]
          wanted = seen && wanted(place, seen, row, building)
          [row, wanted] unless wanted ? row && same?(row, wanted) : row.nil?
        end
      end

      def rows_of(places, images)
        return root.timers.between(places[0].rule.id, *images.keys.minmax) if images

        root.timers.of(places.map { |place| place.rule.id }, places.map(&:record))
      end

      def moved(rule, rows, now)
        ids = column(rows, rule.kind.task? ? :task_id : :record_id).uniq
        differing(root.timers.places(rule, ids, at: now), "skip", nil)
          .count { |row, wanted| row && row[:due_at] != wanted&.fetch(:due_at) }
      end

      def rescheduled(rule, rows, now) = rows.count { |row| row[:due_at] != rule.timing.next_after(now) }

      def touch(event, book, places)
        return if event.what == "timer_fired"

        book.of(event.kind)
          .each do |rule|
            restarts = rule.timing.restarts?(event)
            next unless restarts || rule.timing.touched?(event)

            task = (rule.timing.per == :task) ? task_of(event) : 0
            note(places, rule, Lane.of(event.record_id, task), task, event.at, restarts ? event.at : nil) if task
          end
        return if event.record_id.nil? || event.kind == Core::Schema::Subjects::TASK

        dependents(event, book) do |rule, id|
          note(places, rule, id, 0, event.at, nil) if rule && rule.timing.per == :record
        end
      end

      # Timers of tasks whose date is one of their record move with it. The tasks of all records are asked for at once.
      def dates_of_tasks(events, book, places)
        rules = book.of(Core::Schema::Subjects::TASK).select { |rule| rule.timing.needs.any? }
        changed = events.select { |event| event.what == "record_changed" }.to_h { |event| [event.record_id, event.at] }
        return if rules.empty? || changed.empty?

        root.task_rows.open_of(changed.keys).each do |record, task|
          rules.each { |rule| note(places, rule, record, task, changed[record], nil) }
        end
      end

      # The task is what a rule about tasks looks at; all others look at the record.
      def place_of_wait(row, rules, at)
        rule = rules[row[:version_id]]
        task = rule.kind.task? ? row[:task_id] : 0
        TimerPlace.new(rule:, record: row[:record_id], task:, at:, since: row[:since])
      end

      # @yieldparam place [TimerPlace]
      # @yieldreturn [Array<Core::Need>]
      # @return [Array<Core::Facts, nil>] see +facts+
      def seen_at(places, images = nil)
        images ||= root.records.images(places.map(&:record).select(&:positive?))
        tasks = root.task_rows.by_id(places.map(&:task).uniq - [0])
        events =
          places.map do |place|
            task = tasks[place.task]
            next if place.task != 0 && task.nil?

            event = thought_at(place, images[place.record], task)
            place.rule.kind.task? ? event&.of_task : event
          end
        needs = {}.compare_by_identity
        events.zip(places) { |event, place| needs[event] = yield(place) if event }
        seen = root.snapshots.facts(events.compact, &needs).each
        events.map { |event| event && seen.next }
      end

      def task_of(event) = event.what.start_with?("task_") ? event.detail.dig("task", "id") : nil

      def note(places, rule, record, task, at, since)
        key = [rule.id, record, task]
        known = places[key]
        places[key] = TimerPlace.new(
          rule:, record:, task:, at: [known&.at, at].compact.max,
          since: [known&.since, since].compact.max
        )
      end

      def dependents(event, book)
        return if book.looking.empty? || event.after.nil?

        type = schema.kind(event.kind) or return
        walk = Dependents.new(root)
        known = {}
        book.looking.each do |rule, use|
          (known[use] ||= walk.ids(use, type, event.before, event.after.merge("id" => event.record_id))).each do |id|
            yield(rule, id)
          end
        end
      end

      def thought(kind, image, at, detail) = Core::Event.look(kind, image, at:, detail:)

      # @return [Hash, nil] columns of the row; nil when there is to be none
      def wanted(place, facts, row, building)
        timing = place.rule.timing
        # Built again for the same version, a silence goes on; another version may listen to other things.
        since = [place.since, (row[:since] if building && row && row[:version_id] == place.rule.version_id)].compact.max
        kept = Core::Timing::Keeping.of(timing, facts, kept: row && kept(row), since:, past: building) or return
        {
          rule_id: place.rule.id, version_id: place.rule.version_id, purpose: timing.per.to_s,
          kind: kind_of(place, facts), record_id: place.record, task_id: place.task, due_at: kept.due, look: kept.look,
          held_due: kept.held, since: kept.since, fired_for: kept.fired_for
        }
      rescue Breakage => error
        # A calendar on which no day can be found, say: then there is no timer, and nothing else is held up.
        Breakage.sentence(error, rule: place.rule.id, record: place.record)
        nil
      end

      # @return [String] of the record; "task" for a task about none
      def kind_of(place, facts) =
        if place.rule.kind.task?
          facts.after[Core::Schema::Subjects::ABOUT_KIND] || Core::Schema::Subjects::TASK
        else
          place.rule.kind.key
        end

      def kept(row) =
        Core::Timing::Keeping.new(
          due: row[:due_at], look: row[:look] == true, since: row[:since], fired_for: row[:fired_for],
          held: row[:held_due]
        )

      def same?(row, wanted) =
        wanted.all? { |name, value| (name == :look) ? (row[name] == true) == value : row[name] == value }

      def waits(events, book)
        happened = events.reject { |event| event.what == "timer_fired" }
        ids = happened.to_h { |event| [Lane.of(event.record_id, task_of(event)), event.at] }
        happened.each { |event| dependents(event, book) { |rule, id| ids[id] ||= event.at if rule.nil? } }
        rows = root.timers.later_of(ids.keys).select { |row| row[:purpose] == "wait" }
        return if rows.empty?

        rows.group_by { |row| ids[row[:record_id]] }
          .each do |at, some|
            changes =
              over(some, at:).compact.filter_map do |id, (moment, why)|
                unless some.find { |row| row[:id] == id }[:due_at] == moment
                  [id, {due_at: moment, look: why == "look"}]
                end
              end
            root.timers.update(changes.to_h)
          end
      end
    end
  end
end
