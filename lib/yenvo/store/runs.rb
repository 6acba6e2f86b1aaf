# frozen_string_literal: true

module Yenvo
  module Store
    # What came of rules meeting events. Skips are not kept: they are worked out again when asked for.
    class Runs < Part
      # A plan that is to be written. entry: row of the journal; rule: Core::CompiledRule; plan: Core::Plan, nil when
      # planning failed; error: why, or nil; once_key: see Core::CompiledRule#once_key.
      Outcome = Core::Value.define(:entry, :rule, :plan, :error, :once_key)

      # @param pairs [Array<Array(Integer, String)>] rule id and once key
      # @return [Set] those that are taken
      def taken(pairs)
        return Set.new if pairs.empty?

        db[:runs].where([:rule_id, :once_key] => pairs.uniq).select_map([:rule_id, :once_key]).to_set
      end

      # @return [Set<String>] those of the keys under which a rule has run
      def keys_taken(rule_id, keys)
        keys.uniq.each_slice(1_000).flat_map { |some| db[:runs].where(rule_id: rule_id, once_key: some).select_map(:once_key) }.to_set
      end

      # @return [Boolean] whether a rule had run in a stretch before an entry
      def ran_before?(rule_id, once_key, entry_id)
        !db[:runs].where(rule_id: rule_id, once_key: once_key).where { Sequel[:entry_id] < entry_id }.empty?
      end

      # Writes runs, their tasks and the entries about these, in the caller's transaction: three inserts, however many.
      # @param outcomes [Array<Outcome>]
      # @return [Array<Integer>] ids of the runs
      def write(outcomes, now:)
        ids = insert_all(:runs, outcomes.map { |outcome| run_row(outcome, now) })
        tasks = outcomes.zip(ids).flat_map { |outcome, id| task_rows(outcome, id, now) }
        task_ids = insert_all(:tasks, tasks.map { |row, _| row })
        tie_parents(tasks, task_ids)
        root.journal.add_all(tasks.zip(task_ids).map { |(row, outcome), id| entry(row, outcome, id, now) })
        ids
      end

      # @raise [NotFound]
      def find!(id) = db[:runs].where(id: id).first || raise(NotFound, "There is no run #{id}.")

      # Newest first.
      # @param rule, record [Integer, nil]
      # @param state [String, nil] "ran" or "failed"
      # @param from, till [Time, nil]
      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>]
      def list(rule: nil, record: nil, state: nil, from: nil, till: nil, before: nil, limit: 50)
        found = db[:runs].reverse(:id).limit(limit)
        found = found.where(rule_id: rule) if rule
        found = found.where(record_id: record) if record
        found = found.where(state: state) if state
        found = found.where { Sequel[:at] >= from } if from
        found = found.where { Sequel[:at] < till } if till
        found = found.where { Sequel[:id] < before } if before
        found.select(:id, :rule_id, :version_id, :entry_id, :record_id, :state, :branches, :why, :task_count, :depth, :at).all
      end

      # @return [Hash{Integer => Array<Hash>}] runs by entry
      def of_entries(entry_ids) = db[:runs].where(entry_id: entry_ids).select(:id, :entry_id, :rule_id, :state, :branches).all.group_by { |run| run[:entry_id] }

      private

      def run_row(outcome, now)
        plan = outcome.plan
        {rule_id: outcome.rule.id, version_id: outcome.rule.version_id, entry_id: outcome.entry[:id], record_id: outcome.entry[:record_id],
         state: plan ? "ran" : "failed", branches: plan ? plan.branches.join(",") : "", why: (outcome.error || plan.why)[0, 1000],
         once_key: plan && outcome.once_key, task_count: plan ? plan.tasks.size : 0, depth: outcome.entry[:depth], at: now,
         tests: dump(plan ? plan.plain_tests : []), actions: dump(plan ? plan.tasks.map { |row, number, task| action(row, number, task) } : [])}
      end

      def action(row, number, task)
        {"row" => row, "number" => number, "action" => "task", "title" => task.title, "reason" => task.reason, "notes" => task.notes, "due" => task.due&.to_h}
      end

      def task_rows(outcome, run, now)
        (outcome.plan&.tasks || []).map do |label, number, task|
          [root.tasks.planned_row(task, label: label, number: number, run: run, rule: outcome.rule.id, record_id: outcome.entry[:record_id], now: now), outcome, task.under]
        end
      end

      def entry(row, outcome, task_id, now)
        from = outcome.entry
        cause = Journal::Cause.new(who: nil, at: now, run: row[:run_id], rule: outcome.rule.id, depth: from[:depth] + 1)
        root.tasks.log_row("task_made", task_id, from[:record_id], from[:kind], cause, {title: row[:title], assignee: row[:assignee], queue: row[:queue], rule: outcome.rule.rule.name}.compact)
      end

      def tie_parents(tasks, ids)
        tasks.zip(ids).each do |(row, outcome, under), id|
          next unless under

          parent = tasks.zip(ids).find { |(other, of, _), _| of.equal?(outcome) && other[:branch] == row[:branch] && other[:action] == under }
          db[:tasks].where(id: id).update(parent_id: parent[1]) if parent
        end
      end
    end
  end
end
