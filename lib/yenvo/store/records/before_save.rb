# frozen_string_literal: true

module Yenvo
  module Store
    # Runs the rules that change a record before it is saved: in the save's transaction, in the order of the rule list,
    # each seeing what the earlier ones set.
    class BeforeSave < Base
      # What the rules did before a save, yet to be written when the save has its entry.
      class Done < Base
        # @param what [String]
        # @param type [Core::Schema::Kind]
        # @param outcomes [Array<Runs::Outcome>]
        def initialize(root, what, type, cause, outcomes)
          super(root)
          @what = what
          @type = type
          @cause = cause
          @outcomes = outcomes
        end

        # @param detail [Hash, nil] of the entry
        # @return [Hash, nil] the same with what rules set
        def noted(detail)
          return detail if @outcomes.empty?

          rules = @outcomes.map { |one| {"id" => one.rule.id, "name" => one.rule.rule.name, "words" => words(one)} }
          (detail || {}).merge("rules" => rules)
        end

        # @param entry [Integer] number of the save's entry
        # @param told [Array, nil] filled with rule and words of what rules set
        def write(entry, before, image, told)
          return if @outcomes.empty?

          about = {what: @what, kind: @type.key, record_id: image["id"], at: @cause.at}
          facts = Core::Facts.new(Core::Event.new(id: entry, before:, after: image, who: nil, **about))
          keyed = @outcomes.map { |one| one.with(once_key: one.rule.once_key(facts)) }
          root.runs.write_done(keyed, {id: entry, depth: @cause.depth, **about}, before, now: @cause.at)
          told&.concat(@outcomes.map { |one| {rule: one.rule.named, words: words(one)} })
        end

        private

        def words(outcome) = outcome.plan.steps.map { |_, _, effect| effect.words }
      end

      # @param kind [String]
      # @return [Boolean] whether any rule looks at records of the kind before they are saved
      def any?(kind) = !root.in_force.book(root.epoch).before(kind).nil?

      # @param what [String] "record_made" or "record_changed"
      # @param type [Core::Schema::Kind]
      # @param before, after [Hash] images; after without id when the record is yet to be made
      # @return [Array(Hash, Done)] the image after the rules, and what they did
      # @raise [Refused] naming the rule that failed
      def run(what, type, before, after, cause, detail)
        outcomes = []
        return [after, Done.new(root, what, type, cause, outcomes)] if cause.unheard

        [meet_all(what, type, before, after, cause, detail, outcomes), Done.new(root, what, type, cause, outcomes)]
      end

      private

      # @param outcomes [Array<Runs::Outcome>] to which those are added that ran
      # @return [Hash] the image after the rules
      def meet_all(what, type, before, after, cause, detail, outcomes)
        book = root.in_force.book(root.epoch)
        matcher = book.before(type.key) or return after
        about = {id: nil, what:, kind: type.key, before:, detail:, **cause.slice(:who, :at, :depth)}
        desk = root.desks.look(now: cause.at)
        place = -1
        loop do
          event = Core::Event.new(**about, record_id: after["id"], after:, cause_rule: cause.rule)
          facts = root.snapshots.facts([event], desk:) { book.needs_before(type.key) }[0]
          rule, place = matcher.next_hit(facts, place) { |broken, error| stop(broken, error) }
          return after unless rule

          outcome, after = meet(rule, facts, after, cause)
          outcomes << outcome if outcome
        end
      end

      def meet(rule, facts, after, cause)
        plan = rule.plan(facts, now: cause.at) { facts.record_id && root.runs.ran_lately?(rule, facts) }
        return [nil, after] if !plan.run? || !root.fuses.let_run(rule, facts.record_id, now: cause.at)

        plan.steps.each do |_, _, effect|
          raise Refused.at(effect.refusal) if effect.refusal

          after = after.merge(effect.values)
        end
        raise Core::Error, "Title takes a few words; it cannot be empty." if after["title"].to_s.strip.empty?

        [Runs::Outcome.new(entry: nil, rule:, plan:, error: nil, once_key: nil), after.compact]
      rescue Refused
        # What a rule says to whoever saves is no fault of the rule.
        raise
      rescue Breakage => error
        stop(rule, error)
      end

      def stop(rule, error)
        said = Breakage.sentence(error, rule: rule.id)
        refuse("rule", "The rule “#{rule.rule.name}” stopped this save: #{said}")
      end
    end
  end
end
