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
        news = all.select { |one| one.row[:assignee] && one.row[:assignee] != one.cause.who }
        return if news.empty?

        groups = news.group_by { |one| [one.row[:assignee], one.cause.who, one.cause.rule, one.from, one.passed] }
        root.notices.add_all(groups.values.map { |some| notice(some) })
      end

      # Tells of tasks whose reminder has come. Where nobody has taken one yet there is nobody to be told.
      # @param rows [Array<Hash>]
      def reminders(rows, now:)
        root.notices.add_all(
          rows.select { |row| row[:assignee] }
            .map do |row|
              {
                person: row[:assignee], text: cut("Reminder: “#{row[:title]}”#{due(row)}"), what: "reminder",
                record_id: row[:record_id], rule_id: nil, run_id: nil, task_id: row[:id], at: now
              }
            end
        )
      end

      private

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
