# frozen_string_literal: true

module Yenvo
  module Store
    # What came of rules meeting events. Skips are not kept: they are worked out again when asked for.
    class Runs < Base
      keeps :runs

      # A plan that is to be written. entry: row of the journal; rule: Core::CompiledRule; plan: Core::Plan, nil when
      # planning failed; error: why, or nil; once_key: see Core::CompiledRule#once_key.
      Outcome = Core::Value.define(:entry, :rule, :plan, :error, :once_key) do
        def steps = plan ? plan.steps : []
        def tasks = plan ? plan.tasks : []

        # @return [Array<Core::Effects::BeginKit>]
        def kits = plan ? plan.kits.map(&:last) : []

        # @return [Boolean] whether it makes tasks about its record and nothing else
        def plain? = plan.nil? || (plan.plain? && !behind_wait?)

        private

        # A task under one that was made before a wait has to be tied to it.
        def behind_wait? = entry[:what] == "timer_fired" && plan.tasks.any? { |_, _, task| task.under }
      end

      COLUMNS = %i[
        id
        rule_id
        version_id
        entry_id
        record_id
        state
        branches
        why
        task_count
        depth
        at
        undone_at
        undone_by
      ].freeze

      # @param pairs [Array<Array(Integer, String)>] rule id and once key
      # @return [Set] those that are taken
      def taken(pairs)
        return Set.new if pairs.empty?

        table.where(ONCE => pairs.uniq).select_map(ONCE).to_set
      end
      ONCE = %i[rule_id once_key].freeze
      private_constant :ONCE

      # @return [Set<String>] those of the keys under which a rule has run
      def keys_taken(rule_id, keys)
        keys.compact.uniq.each_slice(1_000)
          .flat_map { |some| table.where(rule_id:, once_key: some).select_map(:once_key) }.to_set
      end

      # @return [Set<Array(Integer, String)>] rule and once key of the runs about a record that stand in the way of
      #   another
      def once_keys(record_id) =
        table.where(record_id:).exclude(once_key: nil).select_map(%i[rule_id once_key]).to_set

      # @param before [Time] moment of the event
      # @param days [Integer]
      # @return [Set<Integer>] those of the records for which a rule ran within so many days before
      def records_within(rule_id, record_ids, days, before)
        record_ids.uniq.each_slice(1_000)
          .flat_map do |some|
            table.where(rule_id:, record_id: some, state: "ran", undone_at: nil)
              .where(Sequel[:event_at] > before - (days * 86_400)).select_map(:record_id)
          end
          .to_set
      end

      # @param pairs [Array<Array(Integer, Integer)>] rule and record
      # @return [Array<Array(Integer, Integer, Time)>] rule, record and moment of the event of each run since
      def event_times(pairs, since:)
        table.where(%i[rule_id record_id] => pairs.uniq).where(state: "ran").where(Sequel[:event_at] > since)
          .select_map(%i[rule_id record_id event_at])
      end

      # @param facts [Core::Facts]
      # @return [Boolean] whether "how often" keeps a rule from meeting an event, by the runs it had up to then
      def ran_lately?(rule, facts)
        event = facts.event
        return records_within(rule.id, [event.record_id], rule.every_days, event.at).any? if rule.every_days

        key = rule.once_key(facts)
        !key.nil? && keys_taken(rule.id, [key]).any?
      end

      # @return [Boolean] the same for an entry of the past, by the runs that entries before it had
      def ran_before?(rule, facts)
        event = facts.event
        found = table.where(rule_id: rule.id).where { Sequel[:entry_id] < event.id }
        if rule.every_days
          return (
            !found.where(record_id: event.record_id, state: "ran")
              .where(Sequel[:event_at] > event.at - (rule.every_days * 86_400)).empty?
          )
        end

        key = rule.once_key(facts)
        !key.nil? && !found.where(once_key: key).empty?
      end

      # Writes runs and carries out what they plan, in the caller's transaction. Runs that only make tasks go in by
      # three inserts, however many there are; the others one after the other, in order. Of the many at one go, one that
      # breaks takes the others with it: whoever calls takes everything back then, and tries again +careful+.
      # @param outcomes [Array<Outcome>]
      # @param careful [Boolean] each for itself, so that one that breaks fails alone
      def write(outcomes, now:, careful: false)
        return outcomes.each { |outcome| write_one(outcome, now) } if careful
        return write_plain(outcomes, now) if outcomes.all?(&:plain?)

        outcomes.chunk_while { |one, other| one.plain? && other.plain? }.each do |some|
          some[0].plain? ? write_plain(some, now) : some.each { |outcome| write_one(outcome, now) }
        end
      end

      # Writes runs whose work is done: rules that changed a record before it was saved.
      def write_done(outcomes, entry, before, now:)
        outcomes.each do |outcome|
          actions =
            outcome.plan.steps.map do |row, number, step|
              did = {"record" => entry[:record_id], "from" => before.slice(*step.values.keys), "to" => step.values}
              step.kept(row, number).merge("did" => did)
            end
          insert_all(:runs, [run_row(outcome.with(entry:, once_key: outcome.once_key), now, actions)])
        end
      end

      # @raise [NotFound]
      def find!(id) = table.where(id:).first || raise(NotFound, "There is no run #{id}.")

      # Newest first, by the moment of the run.
      # @param rule, record [Integer, nil]
      # @param state [String, nil] "ran", "failed" or "undone"
      # @param from, till [Time, nil]
      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>]
      def list(rule: nil, record: nil, state: nil, from: nil, till: nil, before: nil, limit: 50)
        found = table.reverse(:at, :id).limit(limit)
        found = found.where(rule_id: rule) if rule
        found = found.where(record_id: record) if record
        found = found.where(state:) if state
        found = found.where { Sequel[:at] >= from } if from
        found = found.where { Sequel[:at] < till } if till
        found = behind(found, before) if before
        found.select(*COLUMNS).all
      end

      # @return [Hash{Integer => Array<Hash>}] the plain tests of runs, by run
      def tests_of(ids) =
        ids.empty? ? {} : table.where(id: ids).select_hash(:id, :tests).transform_values { |text| load(text) || [] }

      # @return [Hash{Integer => Array<Hash>}] runs by entry
      def of_entries(entry_ids) =
        table.where(entry_id: entry_ids).select(:id, :entry_id, :rule_id, :state, :branches).all
          .group_by { |run| run[:entry_id] }

      private

      def behind(found, id)
        at = table.where(id:).get(:at) or return found.where { Sequel[:id] < id }

        found.where { (Sequel[:at] < at) | ((Sequel[:at] =~ at) & (Sequel[:id] < id)) }
      end

      def write_plain(outcomes, now)
        kits = kits_of(outcomes)
        ids = insert_all(:runs, outcomes.map { |outcome| run_row(outcome, now, kept(outcome, kits)) })
        pairs = outcomes.zip(ids)
        root.new_tasks.write(pairs.flat_map { |outcome, id| task_rows(outcome, id, now) } + kit_rows(pairs, kits, now))
        root.outbox.write_of_rules(pairs.flat_map { |outcome, id| messages(outcome, id, now) })
        tell_of_failures(pairs, now)
      end

      # Steps of a plain run as they are kept.
      def kept(outcome, kits)
        outcome.steps.map do |row, number, step|
          kept = step.kept(row, number)
          used = step.own_kit? && !kits.include?(step)
          used ? kept.merge!("reason" => "it is in use there already, so nothing was done") : kept
        end
      end

      # Whoever owns a rule hears that it failed, once until they have read it.
      def tell_of_failures(pairs, now)
        failed = pairs.reject { |outcome, _| outcome.plan }.uniq { |outcome, _| outcome.rule.id }
        return if failed.empty?

        owners = root.rules.owners(failed.map { |outcome, _| outcome.rule.id })
        titles = root.records.titles(failed.map { |outcome, _| outcome.entry[:record_id] })
        failed.each do |outcome, run_id|
          rule, record_id = outcome.rule, outcome.entry[:record_id]
          title = titles.dig(record_id, :title)
          words = "“#{rule.rule.name}” failed#{" on “#{title}”" if title}: #{outcome.error}"
          whom = [owners[rule.id]].compact
          root.notices.add_once(whom, words, what: "failed", at: now, rule_id: rule.id, run_id:, record_id:)
        end
      end

      # @return [Set<Core::Effects::BeginKit>] the kits that begin, by identity; those in use on their record already do
      #   not
      def kits_of(outcomes)
        wanted =
          outcomes.flat_map { |outcome| outcome.kits.map { |kit| [kit, [outcome.entry[:record_id], kit.kit.id]] } }
        return Set.new.compare_by_identity if wanted.empty?

        taken = root.copies.taken(wanted.map(&:last))
        free = wanted.filter_map { |kit, key| kit if taken.add?(key) }
        # By identity from the start: hashing a plan of many tasks by value would cost more than writing it.
        Set.new.compare_by_identity.merge(free)
      end

      # Begins the kits.
      # @return [Array<NewTasks::New>] their first tasks
      def kit_rows(pairs, kits, now)
        return [] if kits.empty?

        begun =
          pairs.flat_map do |outcome, run|
            cause = Journal::Cause.of_run(run, outcome, now)
            outcome.kits.select { |kit| kits.include?(kit) }.map { |kit| [kit, outcome.entry[:record_id], cause] }
          end
        root.copies.begin_all(begun)
      end

      # What cannot be carried out fails with its run; the rest of the turn stands.
      def write_one(outcome, now)
        return write_plain([outcome], now) unless outcome.plan

        db.transaction(savepoint: true) { outcome.plain? ? write_plain([outcome], now) : carry_out(outcome, now) }
      rescue Breakage => error
        said = Breakage.sentence(error, entry: outcome.entry[:id], rule: outcome.rule.id)
        write_plain([outcome.with(plan: nil, error: said, once_key: nil)], now)
      end

      def carry_out(outcome, now)
        id = insert_all(:runs, [run_row(outcome, now, [])])[0]
        table.where(id:).update(actions: dump(LiveWorld.new(root, outcome, id, now).carry_out))
      end

      def run_row(outcome, now, actions)
        plan, rule, entry = outcome.plan, outcome.rule, outcome.entry
        {
          rule_id: rule.id, version_id: rule.version_id, entry_id: entry[:id], record_id: entry[:record_id],
          depth: entry[:depth], event_at: entry[:at], started: entry[:what] == "started", at: now,
          actions: dump(actions),
          why: (outcome.error || plan.why)[0, 1000], once_key: plan && outcome.once_key, **came_of(plan)
        }
      end

      # @param plan [Core::Plan, nil] nil where it failed
      def came_of(plan)
        return {state: "failed", branches: "", task_count: 0, tests: "[]"} unless plan

        {state: "ran", branches: plan.branches.join(","), task_count: plan.task_count, tests: dump(plan.plain_tests)}
      end

      # @return [Array<Outbox::New>]
      def messages(outcome, run, now)
        steps = outcome.steps.select { |_, _, step| step.is_a?(Core::Effects::SendOut) }
        return steps if steps.empty?

        cause = Journal::Cause.of_run(run, outcome, now)
        steps.map { |row, number, step| Outbox::New.of(step, [row, number], cause, outcome.entry) }
      end

      def task_rows(outcome, run, now)
        cause = Journal::Cause.of_run(run, outcome, now)
        about = outcome.entry.values_at(:kind, :record_id)
        from = {rule: outcome.rule.rule.name}
        outcome.tasks.map do |row, number, task|
          columns = root.tasks.planned_row(task, place: [row, number], about:, cause:)
          under = [run, row, task.under] if task.under
          NewTasks::New.new(columns:, cause:, from:, key: [run, row, number], under:)
        end
      end
    end
  end
end
