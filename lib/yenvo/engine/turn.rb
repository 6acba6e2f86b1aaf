# frozen_string_literal: true

module Yenvo
  module Engine
    # One turn of a worker: some entries of the journal, met with the rules of their epoch, in one transaction.
    # Promise: a rule meets an event once and only once, whatever dies when. The row in the queue goes in the same
    # transaction that writes runs and tasks, and a unique key over entry and rule stands behind it.
    class Turn
      # @param root [Store::Root]
      # @param log [SemanticLogger::Logger]
      def initialize(root, log:)
        @root = root
        @log = log
      end

      # @return [Array<Integer>] numbers of the entries that were claimed last
      attr_reader :at_hand

      # @param limit [Integer] entries at most
      # @param now [Time]
      # @return [Integer] entries settled
      def take(limit:, now:)
        # Where the last turn found something, there is mostly more.
        return 0 if !@busy && @root.waiting.none?

        settled = Turn.with_care { |careful| claim(limit, now, careful) }
        @busy = settled.positive?
        settled
      end

      # Does something, and when a rule breaks it, all of it again with care, so that what broke fails alone. To be
      # careful from the start would cost a savepoint for each rule.
      # @yieldparam careful [Boolean]
      def self.with_care
        yield false
      rescue Store::Breakage
        yield true
      end

      # @param careful [Boolean] whether each rule is asked and carried out for itself
      # @return [Array<Store::Runs::Outcome>] what the rules say about entries, and writes it
      # @param images [Hash{Integer => Hash}] of records that are locked, so that they need not be read again
      def settle(entries, now, images: {}, careful: false)
        seen = look(entries, now, images)
        outcomes = outcomes(seen, now, careful)
        @root.runs.write(outcomes, now:, careful:) if outcomes.any?
        @root.copies.go_on(entries, now:)
        @root.upkeep.follow(seen.facts.map(&:event), now:)
        outcomes
      end

      # All that is known of some entries before any rule is asked. facts, books: one each; addressed: Hash of the rule
      # that a timer of which it is, by number of the entry; desk: Core::Desk.
      Seen = Core::Value.define(:entries, :facts, :books, :addressed, :desk)
      private_constant :Seen

      private

      def claim(limit, now, careful)
        @root.transaction do
          @at_hand = @root.waiting.claim(limit:, now:)
          next 0 if @at_hand.empty?

          entries = @root.journal.entries(@at_hand)
          # Nothing comes before what it comes of, also when this process's clock is behind that of who wrote it.
          settle(entries, [now, *entries.map { |entry| entry[:at] }].max, careful:)
          @root.waiting.settle(@at_hand)
          @at_hand.size
        end
      end

      # @return [Seen]
      def look(entries, now, images)
        events = entries.map { |entry| @root.journal.event(entry) }
        # A timer is met by the version that set it, which may not be in force any more.
        addressed = addressed(events)
        entries, events = views(entries, events, addressed)
        events.map! do |event|
          image = images[event.record_id] unless event.after
          image ? event.seen_as(image) : event
        end
        of_epoch = Hash.new { |known, epoch| known[epoch] = @root.in_force.book(epoch) }
        books = entries.map { |entry| of_epoch[entry[:epoch]] }
        needs = {}.compare_by_identity
        events.zip(books) do |event, book|
          needs[event] = addressed[event.id]&.needs_to_plan || book.needs(event.kind)
        end
        desk = @root.desks.open(now:)
        facts = @root.snapshots.facts(events, desk:, &needs)
        Seen.new(entries:, facts:, books:, addressed:, desk:)
      end

      # @return [Array(Array<Hash>, Array<Core::Event>)] what each entry is to rules, beside its entry
      def views(entries, events, addressed)
        entries.zip(events).flat_map do |entry, event|
          @root.journal.views(event, entry[:epoch], addressed[event.id]).map { |view| [entry, view] }
        end.transpose
      end

      # @return [Hash{Integer => Core::CompiledRule}] by event of a timer
      def addressed(events)
        fired = events.select { |event| event.what == "timer_fired" }
        rules = fired.empty? ? {} : @root.in_force.compiled(fired.map { |event| event.detail["version"] }.uniq)
        fired.to_h { |event| [event.id, rules[event.detail["version"]]] }
      end

      def outcomes(seen, now, careful)
        broken = []
        met =
          seen.entries.zip(seen.facts, seen.books).flat_map do |entry, facts, book|
            rules = timer?(facts) ? rule_of_timer(seen, facts) : rules_met(book, facts, entry, careful && broken)
            rules.map { |rule| [entry, facts, rule] }
          end
        stretch = Stretch.new(@root, met, now)
        found =
          met.filter_map { |entry, facts, rule| seen.desk.attempt { outcome(entry, facts, rule, stretch, now) } }
        @root.desks.settle(seen.desk)
        broken + found
      end

      def timer?(facts) = facts.event.what == "timer_fired"

      def rule_of_timer(seen, facts)
        rule = seen.addressed[facts.event.id]
        (rule && (Core::Continuation.of?(facts.event) || rule.hit(facts))) ? [rule] : []
      end

      # @param broken [Array, false] in which those that cannot be asked are noted as failed; each is asked for itself
      #   then
      def rules_met(book, facts, entry, broken)
        return book.matcher.hits(facts) unless broken

        book.matcher.hits(facts) do |rule, error|
          broken << failed(entry, rule, Store::Breakage.sentence(error, entry: entry[:id], rule: rule.id))
        end
      end

      def outcome(entry, facts, rule, stretch, now)
        key = rule.once_key(facts)
        plan = rule.plan(facts, now:) { stretch.over?(rule, facts, key) }
        return if !plan.run? || !stretch.let_run(rule, entry)

        stretch.note(rule, facts, key)
        Store::Runs::Outcome.new(entry:, rule:, plan:, error: nil, once_key: key)
      rescue Store::Breakage => error
        failed(entry, rule, Store::Breakage.sentence(error, entry: entry[:id], rule: rule.id))
      end

      def failed(entry, rule, sentence) =
        Store::Runs::Outcome.new(entry:, rule:, plan: nil, error: sentence, once_key: nil)
    end
  end
end
