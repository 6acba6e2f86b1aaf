# frozen_string_literal: true

require "json"

module Yenvo
  module Core
    # One version of a rule tied to schema and calendar: compiled once, then asked about every event.
    class CompiledRule
      OTHERWISE = "otherwise"
      MAX_DEPTH = 8

      attr_reader :rule, :id, :version_id, :number, :kind, :schema, :trigger, :only_if, :branches

      # @return [Hash] its id, and what it is called
      def named = {id:, name: rule.name}

      # Binds a rule and gathers all that does not fit.
      # @param rule [Rule]
      # @param schema [Schema]
      # @param id [Integer, nil] of the rule in the store
      # @param number [Integer, nil] of the version
      # @return [Array(CompiledRule, Array<Problem>)] the rule is nil when there are problems
      def self.bind(rule, schema, id: nil, version_id: nil, number: nil)
        problems = []
        kind = schema.subject(rule.kind)
        unless kind && kind.key != Schema::Subjects::RECORD
          known = [*schema.kinds.keys, Schema::Subjects::TASK].join(", ")
          return [nil, [Problem.at(["record"], "must be one of #{known}; #{rule.kind.inspect} is not")]]
        end

        compiled = new(rule, kind, schema, {id:, version_id:, number:}, problems)
        problems.empty? ? [compiled, problems] : [nil, problems]
      end

      # @raise [InvalidRule]
      def self.bind!(rule, schema, **names)
        compiled, problems = bind(rule, schema, **names)
        compiled or raise InvalidRule.new(problems)
      end

      def initialize(rule, kind, schema, names, problems)
        @rule = rule
        @id, @version_id, @number = names.values_at(:id, :version_id, :number)
        @kind = kind
        @schema = schema
        bind_trigger(problems)
        @only_if = BoundGroup.bind(rule.only_if, kind, schema, path: ["only_if"], problems:)
        @branches =
          rule.branches.each_with_index.map do |branch, i|
            BoundGroup.bind(branch.conditions, kind, schema, path: ["branches", i, "if"], problems:)
          end
        @labels = [*(1..branches.size).map { |number| number.to_s.freeze }, OTHERWISE].freeze
        bind_actions(problems)
        check_timing(problems)
        check_task(problems)
        check_days(problems) if problems.empty?
        compile if problems.empty?
      end

      # The fast form: which rows an event hits.
      # @param facts [Facts]
      # @return [Array<Integer>, nil] indexes of branches, the number of branches for "otherwise"; nil when nothing runs
      def hit(facts)
        return if !(@fires.call(facts) || addressed?(facts.event)) || !@conditions.call(facts)

        rows(facts)
      end

      # The same for an event that was found under what the rule watches (see Trigger#beyond_key).
      def hit_beyond_key(facts)
        return if (@beyond_key && !@beyond_key.call(facts)) || !@conditions.call(facts)

        @always || rows(facts)
      end

      # The explaining form.
      # @param now [Time] moment of the run
      # @yield asked once, only when a row is hit: whether the rule has run in this stretch of "how often"
      # @return [Plan]
      # @raise [Error] when an action cannot be planned
      def plan(facts, now:)
        return Continuation.new(self, facts).plan(now) if Continuation.of?(facts.event)

        skip = unmet(facts)
        return skip if skip

        tests, hits = explain_rows(facts)
        return Plan.skip(:no_branch, no_branch(tests), tests) if hits.empty?
        return Plan.skip(:once, once_sentence, tests) if rule.how_often != "every_time" && yield

        Plan.new(
          state: :run, code: nil, why: why(tests, hits, facts), branches: hits.map { |i| label(i) }, tests:,
          steps: steps(facts, hits, now)
        )
      end

      # @return [String, nil] what may stand once in the runs of this rule; nil for every time
      def once_key(facts)
        return if Continuation.of?(facts.event)

        case rule.how_often
        when "once_per_task" then facts.event.detail["task"]&.then { |task| "task:#{task["id"]}" }
        when "once_per_record" then "record:#{facts.record_id || 0}"
        when "once_per_visit" then "visit:#{facts.record_id || 0}:#{facts.after["visit"] || 0}"
        end
      end

      # @return [Integer, nil] days in which it may run at most once for a record
      def every_days = (rule.every_days if rule.how_often == "once_in_days")

      # @return [Boolean] whether it changes the record before it is saved
      def before_save? = rule.timing == "before_save"

      # @return [Array<Need>] what has to be loaded before this rule is asked
      def needs_to_match = @needs_to_match ||= leaf_needs.uniq

      # @return [Array<Need>] what has to be loaded before it plans
      def needs_to_plan = @needs_to_plan ||= (leaf_needs + @actions.flatten.flat_map(&:needs)).uniq

      # @return [Hash{String => Array}] own fields with the values to one of which each is pinned in all that it meets
      def pins
        @pins ||= [trigger.pins, only_if.pins, branch_pins].inject do |all, pins|
          all.merge(pins) { |_, one, other| one & other }
        end
      end

      # @return [String] "1", "2" and so on, or "otherwise"
      def label(index) = @labels[index]

      # @return [String] the rule in one line, such as "Stage becomes Survey booked → 2 branches"
      def sentence
        count = branches.size
        rest = if count == 1 && rule.otherwise.nil? && rule.branches[0].actions.size == 1
          @actions[0][0].shown
        else
          "#{count} #{(count == 1) ? "branch" : "branches"}#{" and an otherwise" if rule.otherwise}"
        end
        "#{trigger.sentence} → #{rest}"
      end

      # @return [Array<BoundCondition>] all conditions at any depth
      def leaves
        found = []
        [only_if, *branches].each { |group| group.each_leaf { |leaf| found << leaf } }
        found
      end

      # @return [Array<Integer>] the rows that conditions alone choose, without the trigger; nil when "only if" fails
      def rows_for(facts) = @conditions.call(facts) ? rows(facts) || [] : nil

      # @return [Timing::Base, nil] when its timers are due; nil for a rule that only events wake
      attr_reader :timing

      # @return [Array<Actions::Wait, Actions::Ladder>] those that leave something for later
      def later =
        @later ||= @actions.flatten.select { |action| action.is_a?(Actions::Wait) || action.is_a?(Actions::Ladder) }

      # @param label [String] of a row
      # @return [Integer, nil]
      def row_index(label) = (0...@actions.size).find { |index| label(index) == label }

      # @param number [Integer] from 1
      # @return [Actions::Action, nil]
      def action(row, number) = @actions[row]&.at(number - 1)

      # @return [Array] the steps of a row behind an action
      def steps_after(row, number, facts, now) = row_steps(row, facts, now, number)

      # @return [Boolean] whether it asks anything before its branches
      def only_if? = only_if.items.any?

      # @return [Boolean] whether a row's own conditions hold, whatever stands before it
      def row_holds?(index, facts) = @branch_tests[index].call(facts)

      private

      def bind_trigger(problems)
        @trigger = Triggers.bind(rule.trigger, kind, schema, problems:)
        if kind.task? && !%w[every_time once_per_task].include?(rule.how_often)
          problems << Problem.at(["how_often"], "must be every_time or once_per_task for a rule about tasks")
        end
        if rule.how_often == "once_in_days" && !rule.every_days
          problems << Problem.at(["every_days"], "must say in how many days (1 to #{Rule::MAX_DAYS})")
        end
      end

      def bind_actions(problems)
        @actions = rule.rows.each_with_index.map do |actions, row|
          path = (row == rule.branches.size) ? ["otherwise"] : ["branches", row, "do"]
          problems << Problem.at(path, "must do at least one thing") if actions.empty?
          bind_row(actions, path, problems)
        end
        problems << Problem.at(["branches"], "must have at least one branch or an otherwise") if @actions.empty?
      end

      def bind_row(actions, path, problems)
        made = {}
        tasks, papers = [], []
        actions.each_with_index
          .filter_map do |action, i|
            bound =
              Actions.bind(
                action, kind, schema, made: made.dup, tasks: tasks.dup, papers: papers.dup,
                watches_task: trigger&.task? || false,
                path: [*path, i], index: i, problems:
              )
            {"task" => tasks, "paper" => papers}[action.name]&.push(i + 1)
            made[i + 1] = bound.made_kind if bound&.made_kind
            bound && [i + 1, bound]
          end
          .map(&:last)
      end

      # Before the save there is nothing yet but the record itself: it alone can be changed, by what changes it.
      def check_timing(problems)
        return check_after_save(problems) unless before_save?

        if trigger && !trigger.before_save?
          problems << Problem.at(
            ["run"], "must be after_save for this trigger; before the save there is only a record made or changed"
          )
        end
        rule.rows.each_with_index do |actions, row|
          actions.each_with_index do |action, i|
            next if Actions.all.fetch(action.name).before_save? && [nil, "record"].include?(action.settings["of"])

            problems << Problem.at(
              [*((row == rule.branches.size) ? ["otherwise"] : ["branches", row, "do"]), i],
              "must be one that changes the record itself (set, assign, move) or stops its save (refuse); a rule " \
              "that runs before the save can do nothing else"
            )
          end
        end
      end

      def check_after_save(problems)
        rule.rows.each_with_index do |actions, row|
          actions.each_with_index do |action, i|
            next if Actions.all.fetch(action.name).after_save?

            problems << Problem.at(
              [*((row == rule.branches.size) ? ["otherwise"] : ["branches", row, "do"]), i],
              "must stand in a rule that runs before the save; after it there is nothing left to stop"
            )
          end
        end
      end

      # Without a trigger that watches tasks there is no task to ask about or speak of.
      def check_task(problems)
        return if trigger.nil? || trigger.task?

        if rule.how_often == "once_per_task"
          problems << Problem.at(["how_often"], "must be another than once_per_task; this rule watches no tasks")
        end
        asked = [["only_if"], *branches.each_index.map { |i| ["branches", i, "if"] }].zip([only_if, *branches])
        asked.each do |path, group|
          group&.each_leaf do |leaf|
            problems << Problem.at(path, "must not ask about the task; #{taskless}") if leaf.reference.is_a?(TaskSide)
          end
        end
        rule.rows.each_with_index do |actions, row|
          path = (row == rule.branches.size) ? ["otherwise"] : ["branches", row, "do"]
          actions.each_with_index do |action, i|
            spoken = TASK_WORDS.match?(JSON.generate(action.to_h))
            problems << Problem.at([*path, i], "must not speak of the task; #{taskless}") if spoken
          end
        end
      end

      def taskless =
        if trigger.all.any?(&:task?)
          "not every trigger of this rule watches one"
        else
          "the trigger of this rule watches none"
        end

      # A day on which conditions become true, and a timer beside it, would be two timers of one record.
      def check_days(problems)
        return unless trigger&.timer? && trigger.daily? && leaves.any?(&:day?)

        problems << Problem.at(
          ["trigger"],
          "must have no timer beside “Any field changes”, since its conditions look at days; make two rules of it"
        )
      end

      # A blank of a text, an assignee or a target taken from the task of the event.
      TASK_WORDS = /\{[{%][^}%]*\btask\.|"to":"task_assignee"|"only":"this"/
      OWNER_WORDS = /"to":"rule_owner"/
      private_constant :TASK_WORDS, :OWNER_WORDS

      # Started by hand, over the records that match, or by its own timer: then the trigger is not asked.
      def addressed?(event) = %w[started timer_fired].include?(event.what) && event.detail["rule"] == id

      def compile
        @fires = trigger.to_proc
        @conditions = only_if.to_proc
        @branch_tests = branches.map(&:to_proc)
        @every = rule.branching == "every"
        @otherwise_row = rule.otherwise ? [branches.size].freeze : nil
        @single = @branch_tests.each_index.map { |i| [i].freeze }
        @beyond_key = trigger.beyond_key
        @asks_owner = OWNER_WORDS.match?(JSON.generate(rule.to_h))
        @always = @single[0] if branches.size == 1 && branches[0].items.empty? && branches[0].mode == "all"
        @timing = Timing.of(self)
      end

      def rows(facts)
        if @every
          hits = @branch_tests.each_index.select { |i| @branch_tests[i].call(facts) }
          return hits.empty? ? @otherwise_row : hits
        end
        index = @branch_tests.index { |test| test.call(facts) }
        index ? @single[index] : @otherwise_row
      end

      def unmet(facts)
        event = facts.event
        by = event.detail["rule"] if %w[started timer_fired].include?(event.what)
        if id && by && by != id
          was = (event.what == "started") ? "another rule that was started" : "the timer of another rule"
          return Plan.skip(:not_this, "It was #{was}")
        end
        own = id && event.cause_rule == id
        return Plan.skip(:own_event, "A rule does not meet an event that it caused itself") if own
        return Plan.skip(:chain, "The chain of rules ended here, after #{MAX_DEPTH} links") if event.depth >= MAX_DEPTH
        return Plan.skip(:trigger, trigger.miss(facts)) unless @fires.call(facts) || addressed?(event)

        result = only_if.explain(facts)
        return if result.met

        found = result.culprit || result
        why = found.mode ? "None of the conditions of “only if” holds" : found.seen_phrase
        Plan.skip(:only_if, why, [["only if", result]])
      end

      def explain_rows(facts)
        tests = only_if? ? [["only if", only_if.explain(facts)]] : []
        hits = []
        branches.each_with_index do |branch, i|
          result = branch.explain(facts)
          tests << [label(i), result]
          hits << i if result.met
          break if result.met && !@every
        end
        hits << branches.size if hits.empty? && rule.otherwise
        [tests, hits]
      end

      def no_branch(tests)
        culprit = tests.reverse.find { |row, _| row != "only if" }&.last&.culprit
        culprit ? "No branch matches: #{culprit.seen_phrase}" : "No branch matches"
      end

      def once_sentence
        case rule.how_often
        when "once_per_visit" then "Already ran on this visit"
        when "once_per_task" then "Already ran for this task"
        when "once_in_days" then "Already ran within #{rule.every_days} days"
        else "Already ran for this #{kind.noun}"
        end
      end

      def why(tests, hits, facts)
        if hits == [branches.size]
          return tests.find { |row, _| row != "only if" }&.last&.culprit&.seen_phrase || "Nothing else matches"
        end

        labels = hits.map { |i| label(i) }
        leaves = ->(some) { some.flat_map { |_, result| result.items.reject(&:mode) } }
        seen = leaves.call(tests.select { |test| labels.include?(test[0]) })
        seen = leaves.call(tests) if seen.empty?
        return trigger.met(facts).sentence if seen.empty?

        words = seen.map { |test| "#{test.label} #{(test.phrase == "changed") ? "changed" : test.seen}" }
        words.uniq.first(3).join(", ")
      end

      # Each action sees what the earlier ones of its row set in the record.
      def steps(facts, hits, now)
        (hits.size == 1) ? row_steps(hits[0], facts, now, 0) : hits.flat_map { |row| row_steps(row, facts, now, 0) }
      end

      # What stands behind a wait is planned when that is over.
      def row_steps(row, facts, now, from)
        found = []
        name = label(row)
        facts = facts.of_rule(id) if @asks_owner
        @actions[row].each_with_index do |action, i|
          next if i < from

          effects = action.plan(facts, now:, rule_name: rule.name)
          facts = effects.inject(facts) { |all, effect| seen_after(effect, all) }
          effects.each { |effect| found << [name, i + 1, effect] }
          break if action.is_a?(Actions::Wait)
        end
        found
      end

      # What later actions of the row see of the record.
      def seen_after(effect, facts)
        own = !kind.task? && effect.is_a?(Effects::ChangeRecord) && effect.record == facts.record_id
        own ? facts.changed(effect.values) : facts
      end

      # When a row has to be hit and every row pins the same field, the union pins it too.
      def branch_pins
        return {} if rule.otherwise || branches.empty?

        branches.map(&:pins)
          .inject { |all, pins| all.slice(*pins.keys).merge(pins.slice(*all.keys)) { |_, one, other| one | other } }
      end

      def leaf_needs = leaves.flat_map(&:needs)
    end
  end
end
