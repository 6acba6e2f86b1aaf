# frozen_string_literal: true

module Yenvo
  module Store
    # Runs the rules that change a record before it is saved: in the save's transaction, in the order of the rule list,
    # each seeing what the earlier ones set.
    class BeforeSave < Part
      # @param what [String] "record_made" or "record_changed"
      # @param type [Core::Schema::Kind]
      # @param before, after [Hash] images; after without id when the record is yet to be made
      # @return [Array(Hash, Array<Runs::Outcome>)] the image after the rules, and what they did
      # @raise [Refused] naming the rule that failed
      def run(what, type, before, after, cause, detail)
        book = root.rules.book(root.epoch)
        matcher = book.before(type.key) or return [after, []]

        outcomes = []
        place = -1
        loop do
          event =
            Core::Event.new(
              id: nil, what: what, kind: type.key, record_id: after["id"], before: before, after: after, who: cause.who,
              at: cause.at, depth: cause.depth, cause_rule: cause.rule, detail: detail
            )
          facts = root.snapshots.facts([event]) { book.needs_before(type.key) }[0]
          rule, place = matcher.next_hit(facts, place) { |broken, error| stop(broken, error) }
          return [after, outcomes] unless rule

          outcome, after = meet(rule, facts, after, cause)
          outcomes << outcome if outcome
        end
      end

      private

      def meet(rule, facts, after, cause)
        plan = rule.plan(facts, now: cause.at) { facts.event.record_id && root.runs.ran_lately?(rule, facts) }
        return [nil, after] if !plan.run? || !root.fuses.hold?(rule, facts.event.record_id, now: cause.at)

        plan.steps.each { |_, _, effect| after = after.merge(effect.values) }
        raise Core::Error, "Title takes a few words; it cannot be empty." if after["title"].to_s.strip.empty?

        [Runs::Outcome.new(entry: nil, rule: rule, plan: plan, error: nil, once_key: nil), after.compact]
      rescue Breakage => error
        stop(rule, error)
      end

      def stop(rule, error) =
        raise(
          Refused.at(
            "rule" => "The rule “#{rule.rule.name}” stopped this save: #{Breakage.sentence(error, rule: rule.id)}"
          )
        )
    end
  end
end
