# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # What rules saw and did, as far as whoever asks may see it: a test of a visible record may have looked at one that
      # is hidden, or at a field that is kept.
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

        # @param actions [Array<Hash>] plain, of a run
        # @param record [Integer, nil] that the run is about
        # @return [Array<Hash>] those on what is seen
        def actions_seen(actions, record)
          return actions unless veils?

          others = actions.to_h { |one| [one, one.dig("did", "record")] }
          seen = sight.records(others.values.compact)
          shown = actions.select { |one| [nil, record, *seen].include?(others[one]) }
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

          known.include?(test["label"]) && !test["phrase"].to_s.include?(" · ") && veil(test["phrase"]) == test["phrase"]
        end
      end
    end
  end
end
