# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Tasks, as rows and with all that helps to work one.
      module TaskPart
        # @param rows [Array<Hash>]
        def tasks(rows)
          records = root.records.hints(rows.map { |row| row[:record_id] })
          rules = root.rules.labels(rows.map { |row| row[:rule_id] })
          kits = root.kits.labels(rows.map { |row| row[:kit_id] })
          may = Permissions.new(@asker)
          parts = root.tasks.part_counts(rows.map { |row| row[:id] })
          inner = root.copies.children(rows.filter_map { |row| row[:id] if row[:opened_id] })
          opened = root.records.titles(rows.map { |row| row[:opened_id] })
          rows.map do |row|
            one_task(row, records[row[:record_id]], rules[row[:rule_id]], may.work?(row)).merge(
              kit: row[:kit_id] && {id: row[:kit_id], name: kits.dig(row[:kit_id], :name) || "a kit that is gone"},
              copy_id: row[:copy_id], mark: mark(kits[row[:kit_id]] || rules[row[:rule_id]]), redated: row[:redated],
              log_done: row[:log_done], parts: parts[row[:id]] || {done: 0, all: 0}, opened:
                row[:opened_id] &&
                  {
                    id: row[:opened_id], title: opened.dig(row[:opened_id], :title) || "a record that is gone",
                    progress: inner[row[:id]]&.slice(:done, :all)
                  }
            )
          end
        end

        def task(row) = tasks([row]).first

        # @return [Hash] task, facts of its record, why it is here, its history, its parts
        def panel(row)
          image = row[:record_id] && root.records.images([row[:record_id]])[row[:record_id]]
          kind = image && schema.kind(image["kind"])
          {
            task: task(row), facts: kind ? facts(image, kind) : [], why: row[:copy_id] ? nil : why(row),
            why_kit: row[:copy_id] && why_kit(row), comments:
              root.comments.of(row[:id])
                .map { |one| {id: one[:id], by: one[:by], at: stamp(one[:at]), text: one[:text]} },
            files:
              root.attachments.of(row[:id])
                .map { |one| {**one.slice(:id, :name, :size, :by), at: stamp(one[:at])} },
            parts: tasks(root.tasks.parts(row[:id])), parent: row[:parent_id] && root.tasks.title(row[:parent_id]),
            history: root.history.of_task(row[:id]), later: later_of_task(row)
          }
        end

        private

        def one_task(row, record, rule, may)
          {
            id: row[:id], **Store::TaskColumns.shown(row), **row.slice(:state, :assignee, :queue), late: row[:open] && row[:due_at] <= now && !starts_later?(row),
            late_days: late_days(row), group: group(row),
            record: record && {**record.slice(:id, :title, :kind), hint: hint(record)},
            **row.slice(:parent_id, :answer, :note, :run_id),
            rule: row[:rule_id] && {id: row[:rule_id], name: rule ? rule[:name] : "a rule that is gone"},
            branch: row[:branch], made_at: stamp(row[:made_at]), made_by: row[:made_by], done_at: stamp(row[:done_at]),
            done_by: row[:done_by], took: row[:took_minutes] && took(row[:took_minutes]), may_work: may
          }
        end

        def starts_later?(row) = row[:start_on] && row[:start_on] > today

        def late_days(row) =
          (row[:open] && row[:due_on] && row[:due_at] <= now) ? calendar.working_days(row[:due_on], today) : 0

        # @return [String] starts (later), late, today, week, later or none
        def group(row)
          return "starts" if row[:open] && row[:start_on] && row[:start_on] > today
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
          if minutes < 60
            "#{minutes} min"
          else
            (
              if days < 0.2
                "#{(minutes / 60.0).round(1)} h"
              else
                "#{days} working #{(days == 1) ? "day" : "days"}"
              end
            ).sub(".0", "")
          end
        end

        # Why a task of a kit is here: which kit, and after what it came.
        def why_kit(row)
          copy = root.copies.find!(row[:copy_id])
          state = root.copies.state_of(copy)
          template = state.kit.kit.task(row[:kit_task])
          {
            kit_id: copy[:kit_id], kit: state.kit.kit.name, version: state.kit.number,
            number: state.kit.kit.number(row[:kit_task]), comes: template ? state.kit.comes(template) : "",
            begun_at: stamp(copy[:begun_at]), begun_by: copy[:begun_by], run_id: copy[:run_id], next:
              state.kit.kit.tasks.select { |other| other.after.flatten.any? { |step| step.task == row[:kit_task] } }
                .map do |other|
                  {title: Core::Text.shown(other.title, state.kit.kind, schema), comes: state.kit.comes(other)}
                end
          }
        rescue Store::Refused
          nil
        end

        def why(row)
          return unless row[:run_id]

          run = root.runs.find!(row[:run_id])
          version = root.rules.version_numbers([run[:version_id]])[run[:version_id]]
          action = load(run[:actions]).find { |one| one["row"] == row[:branch] && one["number"] == row[:action] }
          tests =
            load(run[:tests]).select do |test|
              ["only if", row[:branch]].include?(test["row"]) || row[:branch] == Core::CompiledRule::OTHERWISE
            end
          {
            run_id: run[:id], rule_id: run[:rule_id],
            rule: root.rules.names([run[:rule_id]])[run[:rule_id]] || "a rule that is gone",
            version: version && version[:number], branch: row[:branch],
            event: clause_of(root.journal.find!(run[:entry_id])), tests:, reason: action && action["reason"],
            notes: (action && action["notes"]) || []
          }
        end
      end
    end
  end
end
