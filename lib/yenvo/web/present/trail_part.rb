# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Runs, skips, and why.
      module TrailPart
        # @param rows [Array<Hash>]
        def runs(rows)
          numbers = root.rules.version_numbers(column(rows, :version_id))
          names = root.rules.names(column(rows, :rule_id))
          titles = titles_of(rows)
          tasks = tasks_of(rows, :entry_id)
          tests = tests_of(rows)
          rows.map do |row|
            entry = row[:entry_id]
            {
              **pick(row, :id, :at, :state, :task_count, :undone_at, :undone_by),
              why: why_seen(row[:why], tests.fetch(row[:id], []), titles.dig(row[:record_id], :kind)),
              rule: named(row[:rule_id], names, "rule"), version: numbers[row[:version_id]],
              record: titles[row[:record_id]], branches: branches(row), entry:, task: tasks[entry]
            }
          end
        end

        def branches(run) = run[:branches].split(",")

        # @param row [Hash]
        # @return [Hash] the run with event, tests, actions and what it set off
        def run(row)
          entry = root.journal.find!(row[:entry_id])
          tasks = sight.tasks(root.tasks.of_run(row[:id]))
          runs([row]).first.merge(
            event: clause_of(entry), event_at: stamp(entry[:at]), who: entry[:who],
            milliseconds: ((row[:at] - entry[:at]) * 1000).round.clamp(0, nil),
            tests: tests_seen(load(row[:tests]), entry[:kind]),
            actions: actions(actions_seen(load(row[:actions]), row), tasks, row[:id]), set_off: set_off(row[:id])
          )
        end

        # @param skips [Array<Engine::WhyNot::Skip>]
        def skips(skips)
          entries = skips.map(&:entry)
          titles = titles_of(entries)
          tasks = tasks_of(entries, :id)
          skips.zip(entries).map do |skip, entry|
            rule = skip.rule
            {
              entry: entry[:id], at: stamp(entry[:at]), rule: rule.named, version: rule.number,
              record: titles[entry[:record_id]], task: tasks[entry[:id]],
              why: skip.plan.run? ? "Waits for the worker" : why_of(skip.plan, entry[:kind])
            }
          end
        end

        # @param skip [Engine::WhyNot::Skip, nil]
        def why_not(entry, rule_id, skip)
          plan = skip&.plan
          {
            **pick(entry, :who),
            event_at: stamp(entry[:at]), event: sentence_of(entry), record: titles_of([entry]).values.first,
            rule: named(rule_id, root.rules.names([rule_id]), "rule"), version: skip&.rule&.number,
            in_force: !skip.nil?,
            ran: plan ? plan.run? : false, why: plan ? why_of(plan, entry[:kind]) : not_in_force(entry, rule_id),
            tests: tests_seen(plan&.plain_tests || [], entry[:kind])
          }
        end

        # @param rows [Array<Hash>] of Store::Waiting#aside
        def asides(rows)
          titles = titles_of(rows)
          tasks = tasks_of(rows, :entry_id)
          rows.map do |row|
            {
              **pick(row, :at, :tries, :behind),
              entry: row[:entry_id], what: "#{noun_of(row)}: #{row[:what].tr("_", " ")}",
              record: titles[row[:record_id]], task: tasks[row[:entry_id]], next_at: stamp(row[:not_before]),
              why: row[:last_error]
            }
          end
        end

        # @param entry [Hash] row of the journal
        # @return [String] such as "Hollie Banner moved the deal from Quoted to Survey booked"
        def sentence_of(entry) = history.stories([entry]).first.to_s

        # @return [String] the same behind "because"
        def clause_of(entry) = history.stories([entry]).first.clause

        private

        def not_in_force(entry, rule_id)
          return "The rule was not on when this happened." unless root.in_force.any?(rule_id, entry[:epoch])

          "The rule was on, but its version of then does not fit the set-up that is known of that time, so what it " \
          "made of this cannot be worked out."
        end

        # @return [String] what an entry is about; what is about no record is about a task
        def noun_of(row) = row[:kind] ? schema.kind(row[:kind])&.label || "Record" : "Task"

        # @return [Hash{Integer => String}] by entry, the title of the task that it is about
        # @param name [Symbol] of the column with the entry
        # @return [Hash{Integer => String}] by entry that is about no record, the title of the task that it is about
        def tasks_of(rows, name)
          about = root.journal.tasks_of(column(rows.reject { |row| row[:record_id] }, name))
          titles = root.task_rows.titles(about.values)
          about.transform_values { |id| titles[id] }.compact
        end

        # Only where something of them may be hidden.
        def tests_of(runs) = veils? ? root.runs.tests_of(column(runs, :id)) : {}

        def actions(plain, tasks, run_id)
          states = root.outbox.states_of_run(run_id)
          plain.map do |action|
            task = task_of(action, tasks)
            action.except("did", "make").merge(
              "action" => action["action"] || action["make"],
              "task" => task && {"id" => task[:id], "state" => task[:state]},
              "message" => states[action.values_at("row", "number")]
            )
          end
        end

        def task_of(action, tasks) =
          tasks.find { |row| row.values_at(:branch, :action) == action.values_at("row", "number") }

        # Entries that the run caused, each with the runs that met it.
        def set_off(run_id)
          entries = sight.about(root.journal.caused_by(run_id))
          runs = root.runs.of_entries(column(entries, :id))
          names = root.rules.names(column(runs.values.flatten, :rule_id))
          ends = chain_ends(entries)
          entries.zip(history.present(entries)).map do |entry, story|
            met = runs.fetch(entry[:id], [])
            {
              **pick(entry, :at, :task_id),
              words: story["words"], chain_ended: ends.fetch(entry[:id], []),
              runs: met.map { |run| {id: run[:id], rule: names[run[:rule_id]], branches: branches(run)} }
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
