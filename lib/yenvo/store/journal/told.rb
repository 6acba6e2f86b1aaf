# frozen_string_literal: true

module Yenvo
  module Store
    # Tells people in the bell what they have been given to do, and by whom. Who gave it to themselves knows already.
    class Told < Base
      # A task that somebody was given. row: its columns with id; cause: Journal::Cause; from: name of the rule or kit
      # behind it, or nil; passed: whether it was somebody else's before.
      Given = Core::Value.define(:row, :cause, :from, passed: false)

      # What one rule gave one person at once is one notice.
      # @param all [Array<Given>]
      def given(all)
        queued(all)
        news = all.select { |one| one.row[:assignee] && one.row[:assignee] != one.cause.who }
        return if news.empty?

        groups = news.group_by { |one| [one.row[:assignee], one.cause.who, one.cause.rule, one.from, one.passed] }
        root.notices.add_all(groups.values.map { |some| notice(some) })
      end

      # Tells those who chose to hear of their queues what came to one.
      # @param all [Array<Given>]
      def queued(all)
        hearing = schema.people.each_value.reject { |person| person.told_by("queue") == "none" || !person.at_work? }
        news = hearing.empty? ? [] : all.select { |one| one.row[:queue] && one.row[:assignee].nil? }
        root.notices.add_all(news.flat_map { |one| hearing.filter_map { |person| of_queue(one, person) } })
      end

      # Tells of tasks that have got late.
      # @param rows [Array<Hash>]
      def late(rows, now:)
        mine = rows.select { |row| row[:assignee] }
        root.notices.add_all(mine.map { |row| of_task(row, row[:assignee], "“#{row[:title]}” is late.", "late", now) })
      end

      # Tells of tasks whose reminder has come. Where nobody has taken one yet there is nobody to be told.
      # @param rows [Array<Hash>]
      def reminders(rows, now:)
        root.notices.add_all(
          rows.select { |row| row[:assignee] }
            .map { |row| of_task(row, row[:assignee], "Reminder: “#{row[:title]}”#{due(row)}", "reminder", now) }
        )
      end

      private

      def of_task(row, person, text, what, at)
        {
          person:, text: cut(text), what:, record_id: row[:record_id], rule_id: nil, run_id: nil, task_id: row[:id], at:
        }
      end

      # @return [Hash, nil] nil for who is not in the team that takes from it, or put it there
      def of_queue(one, person)
        row = one.row
        return unless person.in?(row[:team]) && person.key != one.cause.who

        text = "“#{row[:title]}” has come to the queue #{schema.queue_name(row[:queue])}."
        of_task(row, person.key, text, "queue", one.cause.at)
      end

      def notice(some)
        first = some[0]
        cause = first.cause
        one = some.size == 1
        {
          person: first.row[:assignee], text: cut("#{words(some)}."), what: "given",
          record_id: (first.row[:record_id] if one), words_of: first.row[:record_id], rule_id: cause.rule,
          run_id: cause.run, task_id: (first.row[:id] if one), at: cause.at
        }
      end

      def words(some)
        first = some[0]
        title = (some.size == 1) ? "“#{first.row[:title]}”" : "#{some.size} tasks (“#{first.row[:title]}” and others)"
        verb = first.passed ? "passed #{title} on to you" : "gave you #{title}"
        return "#{schema.name_of(first.cause.who)} #{verb}" if first.cause.who

        "“#{first.from || "A rule"}” #{verb}"
      end

      def due(row) =
        if row[:due_on]
          ", due #{Core::Show.date(row[:due_on])}#{" #{Core::ClockTime.show(row[:due_minutes])}" if row[:due_minutes]}."
        else
          "."
        end

      def cut(text) = text[0, Notices::MOST]
    end
  end
end
