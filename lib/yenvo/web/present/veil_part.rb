# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # What rules saw and did, as far as whoever asks may see it: a test of a visible record may have looked at one
      # that is hidden, or at a field that is kept.
      module VeilPart
        UNSEEN = "not for you to see"
        NOT_ALL = "What decided is not for you to see"
        EVENTS = Core::EventSide::ALL.values.map(&:first).freeze
        private_constant :EVENTS

        # @param tests [Array<Hash>] plain
        # @param kind [String, nil] key of the kind of record that the rule met
        # @return [Array<Hash>] the same, without what they saw where that is hidden
        def tests_seen(tests, kind)
          return tests unless veils?

          known = labels(schema.kind(kind))
          tests.map { |test| shows?(test, known) ? test : test.merge("seen" => UNSEEN) }
        end

        # @param why [String, nil] of a run or skip
        # @param tests [Array<Hash>] plain, that decided it
        # @return [String, nil]
        def why_seen(why, tests, kind)
          return why if why.nil? || !veils?

          (tests_seen(tests, kind) == tests) ? veil(why) : NOT_ALL
        end

        # @param told [Array<Hash>] what rules set before a save
        # @return [Array<Hash>]
        def set_by(told) = told.map { |one| one.merge(words: one[:words].map { |words| veil(words) }) }

        # @param plan [Core::Plan]
        # @return [String, nil]
        def why_of(plan, kind) = why_seen(plan.why, plan.plain_tests, kind)

        # @param actions [Array<Hash>] plain, of a run
        # @param run [Hash] row
        # @return [Array<Hash>] those on what is seen
        def actions_seen(actions, run)
          return actions unless veils?

          record = run[:record_id]
          made = root.tasks.of_run(run[:id])
          hidden = (made - sight.tasks(made)).map { |task| task.values_at(:branch, :action) }
          actions = actions.reject { |one| hidden.include?(one.values_at("row", "number")) }

          seen = [nil, record, *sight.records(actions.map { |one| one.dig("did", "record") })]
          shown = actions.select { |one| seen.include?(one.dig("did", "record")) }
          shown.map { |one| (one["verb"] == "make_task") ? one : one.merge("title" => veil(one["title"])) }
        end

        private

        # @return [Boolean] whether anything at all is hidden from whoever asks
        def veils? = !sight.all? || !schema.equal?(root.schema)

        # @return [Set<String>] what may be said of a record: names of its fields that lead to nothing hidden
        def labels(kind)
          own = kind ? kind.fields.each_value.reject { |field| field.type == "link" && hides?(field) }.map(&:label) : []
          [*own, *own.map { |label| "#{label} before" }, *EVENTS, "Today"].to_set
        end

        def hides?(field)
          target = schema.kind(field.links_to)
          target.nil? ? !sight.all? : !sight.test(target).nil?
        end

        # A group has no side of its own; of two sides that are compared the other stands in the phrase.
        def shows?(test, known)
          return true if test["seen"].to_s.empty?

          phrase = test["phrase"].to_s
          known.include?(test["label"]) && !phrase.include?(" · ") && veil(phrase) == phrase
        end
      end
    end
  end
end
