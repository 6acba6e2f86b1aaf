# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Runs, skips, and why.
      module TrailPart
        # @param rows [Array<Hash>]
        def runs(rows)
          numbers, names, titles =
            lookups(
              rows.map { |row| row[:version_id] }, rows.map { |row| row[:rule_id] }, rows.map { |row| row[:record_id] }
            )
          tasks = tasks_of(rows.reject { |row| row[:record_id] }.map { |row| row[:entry_id] })
          rows.map { |row| run_row(row, numbers, names, titles).merge(task: tasks[row[:entry_id]]) }
        end

        # @param row [Hash]
        # @return [Hash] the run with event, tests, actions and what it set off
        def run(row)
          entry = root.journal.find!(row[:entry_id])
          tasks = root.tasks.of_run(row[:id])
          runs([row]).first.merge(
            event: clause_of(entry), event_at: stamp(entry[:at]), who: entry[:who],
            milliseconds: ((row[:at] - entry[:at]) * 1000).round.clamp(0, nil), tests: load(row[:tests]),
            actions: actions(load(row[:actions]), tasks), set_off: set_off(row[:id])
          )
        end

        # @param skips [Array<Engine::WhyNot::Skip>]
        def skips(skips)
          titles = root.records.titles(skips.map { |skip| skip.entry[:record_id] })
          tasks = tasks_of(skips.map(&:entry).reject { |entry| entry[:record_id] }.map { |entry| entry[:id] })
          skips.map do |skip|
            {
              entry: skip.entry[:id], at: stamp(skip.entry[:at]), rule: {id: skip.rule.id, name: skip.rule.rule.name},
              version: skip.rule.number, record: titles[skip.entry[:record_id]]&.slice(:id, :title, :kind),
              task: tasks[skip.entry[:id]], why: skip.plan.run? ? "Waits for the worker" : skip.plan.why
            }
          end
        end

        # @param skip [Engine::WhyNot::Skip, nil]
        def why_not(entry, rule_id, skip)
          names = root.rules.names([rule_id])
          {
            rule: {id: rule_id, name: names[rule_id] || "a rule that is gone"}, event: sentence_of(entry),
            event_at: stamp(entry[:at]), who: entry[:who],
            record: root.records.titles([entry[:record_id]])[entry[:record_id]]&.slice(:id, :title, :kind),
            version: skip&.rule&.number, in_force: !skip.nil?, ran: skip ? skip.plan.run? : false,
            why: skip ? skip.plan.why : not_in_force(entry, rule_id), tests: skip ? skip.plan.plain_tests : []
          }
        end

        # @param rows [Array<Hash>] of Store::Waiting#aside
        def asides(rows)
          titles = root.records.titles(rows.map { |row| row[:record_id] })
          tasks = tasks_of(rows.reject { |row| row[:record_id] }.map { |row| row[:entry_id] })
          rows.map do |row|
            {
              entry: row[:entry_id], what: "#{noun_of(row)}: #{row[:what].tr("_", " ")}",
              at: stamp(row[:at]), record: titles[row[:record_id]]&.slice(:id, :title, :kind),
              task: tasks[row[:entry_id]], tries: row[:tries],
              next_at: stamp(row[:not_before]), behind: row[:behind], why: row[:last_error]
            }
          end
        end

        # @param entry [Hash] row of the journal
        # @return [String] such as "Hollie Banner moved the deal from Quoted to Survey booked"
        def sentence_of(entry) = root.history.stories([entry]).first.to_s

        # @return [String] the same behind "because"
        def clause_of(entry) = root.history.stories([entry]).first.clause

        private

        def not_in_force(entry, rule_id)
          return "The rule was not on when this happened." unless root.in_force.any?(rule_id, entry[:epoch])

          "The rule was on, but its version of then does not fit the set-up that is known of that time, so what it " \
          "made of this cannot be worked out."
        end

        def lookups(versions, rules, records) =
          [root.rules.version_numbers(versions), root.rules.names(rules), root.records.titles(records)]

        # @return [String] what an entry is about; what is about no record is about a task
        def noun_of(row) = row[:kind] ? schema.kind(row[:kind])&.label || "Record" : "Task"

        # @return [Hash{Integer => String}] by entry, the title of the task that it is about
        def tasks_of(entry_ids)
          about = root.journal.tasks_of(entry_ids)
          titles = root.task_rows.titles(about.values)
          about.transform_values { |id| titles[id] }.compact
        end

        def run_row(row, numbers, names, titles)
          {
            id: row[:id], at: stamp(row[:at]),
            rule: {id: row[:rule_id], name: names[row[:rule_id]] || "a rule that is gone"},
            version: numbers.dig(row[:version_id], :number), record: titles[row[:record_id]]&.slice(:id, :title, :kind),
            state: row[:state], branches: row[:branches].split(","), why: row[:why], task_count: row[:task_count],
            entry: row[:entry_id], undone_at: stamp(row[:undone_at]), undone_by: row[:undone_by]
          }
        end

        def actions(plain, tasks)
          plain.map do |action|
            task = tasks.find { |row| row[:branch] == action["row"] && row[:action] == action["number"] }
            action.except("did", "make").merge(
              "action" => action["action"] || action["make"],
              "task" => task && {"id" => task[:id], "state" => task[:state]}
            )
          end
        end

        # Entries that the run caused, each with the runs that met it.
        def set_off(run_id)
          entries = root.journal.caused_by(run_id)
          runs = root.runs.of_entries(entries.map { |entry| entry[:id] })
          names = root.rules.names(runs.values.flatten.map { |run| run[:rule_id] })
          ends = chain_ends(entries)
          stories = root.history.present(entries)
          entries.zip(stories).map do |entry, story|
            {
              words: story["words"], at: stamp(entry[:at]), task_id: entry[:task_id], runs:
                runs.fetch(entry[:id], [])
                  .map { |run| {id: run[:id], rule: names[run[:rule_id]], branches: run[:branches].split(",")} },
              chain_ended: ends.fetch(entry[:id], [])
            }
          end
        end

        # @return [Hash{Integer => Array<String>}] by entry, the rules that would have met it but for the length of the
        #   chain
        def chain_ends(entries)
          last =
            entries.select do |entry|
              entry[:depth] >= Core::CompiledRule::MAX_DEPTH && Store::Journal::WATCHED.include?(entry[:what])
            end
          last.to_h do |entry|
            matcher = root.in_force.book(entry[:epoch]).matcher
            [entry[:id], watching(matcher, entry).map { |rule| rule.rule.name }]
          end
        end

        def watching(matcher, entry)
          views = root.journal.views(root.journal.event(entry), entry[:epoch])
          views.flat_map { |event| matcher.watching(event) }.uniq
        end
      end
    end
  end
end
