# frozen_string_literal: true

module Yenvo
  module Core
    # What a rule does later about an event it has met: the rest of a row after a wait, or a step of a ladder. It sees
    # the event as it was, and the record as it is now.
    class Continuation
      # @param rule [CompiledRule]
      # @param facts [Facts] of a "timer_fired" event whose detail says timer ("wait" or "ladder"), branch (label of the
      #   row), action (number), and for a wait origin (what, who, at and detail of the event) and over_by (why it is
      #   over), for a ladder step (index) and task
      def initialize(rule, facts)
        @rule = rule
        @detail = facts.event.detail
        @facts = (@detail["timer"] == "wait") ? as_then(facts) : facts
      end

      # @return [Facts] what conditions and texts see
      attr_reader :facts

      # @param event [Event]
      def self.of?(event) = event.what == "timer_fired" && %w[wait ladder].include?(event.detail["timer"])

      # @param now [Time]
      # @return [Plan] a run also where nothing more is done, since it began with one
      def plan(now)
        row = @rule.row_index(@detail["branch"])
        action = row && @rule.action(row, @detail["action"])
        return Plan.skip(:gone, "What this timer belonged to is not part of the rule") unless action

        (@detail["timer"] == "wait") ? after_wait(row, action, now) : climb(action, now)
      end

      private

      def as_then(facts)
        event = facts.event
        origin = @detail["origin"] || {}
        detail = {**(origin["detail"] || {}), "task" => @detail["task"], "began_at" => origin["at"]}.compact
        seen =
          Event.new(
            id: event.id, what: origin["what"], kind: event.kind, record_id: event.record_id, before: event.before,
            after: event.after, who: origin["who"], at: event.at, depth: event.depth, detail:
          )
        Facts.new(seen, facts.linked, facts.related, desk: facts.desk, given: facts.given)
      end

      def after_wait(row, action, now)
        by = @detail["over_by"]
        waited = "Waited until #{OVER.fetch(by, "it was over")}"
        return ended(row, "#{waited}; nothing more is done then", []) if action.stops?(by)

        tests, wrong = still?(row)
        return ended(row, "#{waited}; then #{wrong.seen_phrase}", tests) if wrong

        Plan.new(
          state: :run, code: nil, why: "#{waited}, and the conditions still hold", branches: [@rule.label(row)], tests:,
          steps: @rule.steps_after(row, @detail["action"], @facts, now)
        )
      end
      OVER = {
        "time" => "the time was over", "date" => "the date came", "condition" => "its condition came true",
        "limit" => "the limit came"
      }.freeze
      private_constant :OVER

      # @return [Array(Array, TestResult)] the tests, and the one that does not hold any more, or nil
      def still?(row)
        tests = @rule.only_if? ? [["only if", @rule.only_if.explain(@facts)]] : []
        tests << [@rule.label(row), @rule.branches[row].explain(@facts)] if row < @rule.branches.size
        failed = tests.map(&:last).find { |result| !result.met }
        [tests, failed && (failed.culprit || failed)]
      end

      def climb(action, now)
        task = @detail["task"]
        return Plan.skip(:over, "“#{task && task["title"]}” is not open any more") unless task && task["open"]

        step = @detail["step"]
        effects = action.take(step, @facts, now:, rule_name: @rule.rule.name)
        Plan.new(
          state: :run, code: nil, why: "“#{task["title"]}” is still open #{action.phrase(step)}",
          branches: [@detail["branch"]], tests: [],
          steps: effects.map { |effect| [@detail["branch"], @detail["action"], effect] }
        )
      end

      def ended(row, why, tests) =
        Plan.new(state: :run, code: nil, why:, branches: [@rule.label(row)], tests:, steps: [])
    end
  end
end
