# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Tasks, as rows and with all that helps to work one.
      module TaskPart
        # @param rows [Array<Hash>]
        def tasks(rows)
          records = sight.hints(column(rows, :record_id))
          rules = root.rules.labels(column(rows, :rule_id))
          kits = root.kits.labels(column(rows, :kit_id))
          opened = sight.titles(column(rows, :opened_id))
          inner = root.copies.children(column(rows.select { |row| row[:opened_id] }, :id))
          parts = root.tasks.part_counts(column(rows, :id))
          rows.map do |row|
            one_task(row).merge(
              record: hinted(records[row[:record_id]]), rule: named(row[:rule_id], rules, "rule"),
              kit: named(row[:kit_id], kits, "kit"), mark: mark(kits[row[:kit_id]] || rules[row[:rule_id]]),
              parts: parts[row[:id]] || {done: 0, all: 0},
              opened: row[:opened_id] && opened_by(row, opened, inner[row[:id]])
            )
          end
        end

        def task(row) = tasks([row]).first

        # @return [Hash] task, facts of its record, why it is here, its history, its parts
        def panel(row)
          id = row[:id]
          image = sight.images([row[:record_id]])[row[:record_id]]
          kind = image && schema.kind(image["kind"])
          {
            task: task(row), facts: kind ? facts(image, kind) : [], why: row[:copy_id] ? nil : why(row),
            why_kit: row[:copy_id] && why_kit(row), history: history.of_task(id), later: later_of_task(row),
            comments: root.comments.of(id).map { |one| pick(one, :id, :by, :at, :text) },
            files: files(task_id: id), fills: fills(row),
            parts: tasks(sight.tasks(root.tasks.parts(id))), parent: parent(row)
          }
        end

        # @param place [Hash{Symbol => Integer}] task_id or record_id
        def files(place) = root.attachments.of(place).map { |one| pick(one, :id, :name, :size, :by, :at) }

        private

        # @return [Hash, nil] key and name of the paper that it asks for; no name when that was taken away
        def fills(row) = row[:fills] && {key: row[:fills], name: schema.papers[row[:fills]]&.name}

        # @return [Hash, nil] id and title of the task that it is a part of
        def parent(row)
          above = row[:parent_id] && root.tasks.find!(row[:parent_id])
          above.slice(:id, :title) if above && sight.tasks([above]).any?
        end

        def one_task(row)
          {
            **Store::TaskColumns.shown(row), **pick(row, *PLAIN),
            group: group(row), late_days: late_days(row),
            late: row[:open] && row[:due_at] <= now && !starts_later?(row),
            took: row[:took_minutes] && took(row[:took_minutes]), may_work: Permissions.new(@asker, schema).work?(row)
          }
        end
        PLAIN = %i[
          id state assignee queue parent_id answer note run_id branch made_at made_by done_at done_by copy_id redated
          log_done
        ].freeze
        private_constant :PLAIN

        # What a task is about, with what helps to know it again.
        def hinted(record) = record && {**record.slice(:id, :title, :kind), hint: hint(record)}

        # The record that a task has opened, and how far the kit on it is.
        def opened_by(row, titles, progress)
          title = titles.dig(row[:opened_id], :title) || "a record that is gone"
          {id: row[:opened_id], title:, progress: progress&.slice(:done, :all)}
        end

        def starts_later?(row) = row[:start_on] && row[:start_on] > today

        def late_days(row) =
          (row[:open] && row[:due_on] && row[:due_at] <= now) ? calendar.working_days(row[:due_on], today) : 0

        # @return [String] starts (later), late, today, week, later or none
        def group(row)
          return "starts" if row[:open] && starts_later?(row)
          return "none" unless row[:due_on]
          return "late" if row[:due_at] <= now
          return "today" if row[:due_on] <= today

          (row[:due_on] <= calendar.add_working_days(today, 5)) ? "week" : "later"
        end

        # @return [String] such as "deal, €4,350"
        def hint(record)
          kind = schema.kind(record[:kind])
          money = kind&.own_fields&.find { |field| field.type == "money" }
          value = money && JSON.parse(record[:fields])[money.key]
          [kind&.label&.downcase, value && Core::Show.money(value, money.unit)].compact.join(", ")
        end

        # @return [String] working time, such as "0.6 working days"
        def took(minutes)
          days = (minutes.to_f / calendar.minutes_a_day).round(1)
          return "#{minutes} min" if minutes < 60
          return "#{(minutes / 60.0).round(1)} h".sub(".0", "") if days < 0.2

          Core::Show.some(days, "working day").sub(".0", "")
        end

        # Why a task of a kit is here: which kit, and after what it came.
        def why_kit(row)
          copy = sight.about([root.copies.find!(row[:copy_id])]).first or return
          bound = root.copies.state_of(copy).kit
          kit = bound.kit
          key = row[:kit_task]
          following = kit.tasks.select { |other| other.after.flatten.any? { |step| step.task == key } }
          {
            **pick(copy, :kit_id, :begun_at, :begun_by, :run_id),
            kit: kit.name, version: bound.number,
            number: kit.number(key), comes: kit.task(key) ? bound.comes(kit.task(key)) : "",
            next: following.map do |other|
              {title: Core::Text.shown(other.title, bound.kind, schema), comes: bound.comes(other)}
            end
          }
        rescue Store::Refused
          nil
        end

        def why(row)
          return unless row[:run_id]

          run = sight.about([root.runs.find!(row[:run_id])]).first or return
          branch = row[:branch]
          action = load(run[:actions]).find { |one| one["row"] == branch && one["number"] == row[:action] } || {}
          rows = ["only if", branch]
          tests = load(run[:tests])
          tests = tests.select { |test| rows.include?(test["row"]) } unless branch == Core::CompiledRule::OTHERWISE
          {
            run_id: run[:id], rule_id: run[:rule_id],
            rule: named(run[:rule_id], root.rules.names([run[:rule_id]]), "rule")[:name],
            version: root.rules.version_numbers([run[:version_id]])[run[:version_id]], branch:,
            event: clause_of(root.journal.find!(run[:entry_id])), tests: tests_seen(tests, row[:kind]),
            reason: action["reason"], notes: action["notes"] || []
          }
        end
      end
    end
  end
end
