# frozen_string_literal: true

module Yenvo
  module Core
    # Finds the rules that an event meets, out of all that are in force, without going through them. Rules stand under
    # kind and watched field, and within that under one value that they require of one field, where they require one.
    class Matcher
      # The rules under one key: some by field and value, the rest in a row.
      class Bucket
        def initialize
          @by = {}
          @rest = []
        end

        # Stands the rule under the field that puts it among the fewest others.
        def add(rule)
          pins = rule.pins
          return @rest << rule if pins.empty?

          field, values =
            pins.min_by { |name, all| [all.sum { |value| @by.dig(name, value)&.size || 0 } + (all.size * 2), name] }
          table = (@by[field] ||= {})
          values.each { |value| (table[value] ||= []) << rule }
        end

        def each_candidate(image, &block)
          @by.each { |field, table| table[image[field]]&.each(&block) }
          @rest.each(&block)
        end
      end

      ADDRESSED = %w[started timer_fired].freeze

      attr_reader :rules, :order

      # @param rules [Array<CompiledRule>] in the order in which they shall run
      def initialize(rules)
        @rules = rules
        @order = {}.compare_by_identity
        rules.each_with_index { |rule, index| @order[rule] = index }
        @by_id = rules.to_h { |rule| [rule.id, rule] }
        @buckets = {}
        @watching = Hash.new { |hash, key| hash[key] = [] }
        rules.each do |rule|
          rule.trigger.watch_keys.each do |key|
            (@buckets[[rule.kind.key, *key]] ||= Bucket.new).add(rule)
            @watching[[rule.kind.key, *key]] << rule
          end
        end
        @watching.default = [].freeze
      end

      # @param event [Event]
      # @return [Array<CompiledRule>] rules worth asking; no other can be met
      def candidates(event)
        return [addressed(event)].compact if ADDRESSED.include?(event.what)

        found = []
        keys(event).each { |key| @buckets[key]&.each_candidate(event.after) { |rule| found << rule } }
        found
      end

      # @param event [Event]
      # @return [Array<CompiledRule>] all rules that watch what the event touched, met or not, in order
      def watching(event)
        return [addressed(event)].compact if ADDRESSED.include?(event.what)

        keys(event).flat_map { |key| @watching[key] }.uniq.sort_by { |rule| @order[rule] }
      end

      # @return [Boolean] whether any rule watches such a thing about records of the kind
      def watches?(kind, *key) = !@watching[[kind, *key]].empty?

      # The rule that an event meets first of those after a place in the order, for rules that run one after the other,
      # each seeing what the earlier one changed.
      # @param after [Integer] place, -1 for the beginning
      # @yield as +hits+ does
      # @return [Array(CompiledRule, Integer), nil]
      def next_hit(facts, after, &broken)
        rule = candidates(facts.event).select { |one| @order[one] > after }.sort_by { |one| @order[one] }
          .find { |one| broken ? hit_or_tell(one, facts, &broken) : one.hit(facts) }
        rule && [rule, @order[rule]]
      end

      # @param facts [Facts]
      # @yieldparam rule [CompiledRule] one that broke when it was asked
      # @yieldparam error [StandardError] without a block it is raised
      # @return [Array<CompiledRule>] those that run, in order; how often each may run is not looked at
      def hits(facts, &broken)
        event = facts.event
        return [] if event.depth >= CompiledRule::MAX_DEPTH

        met =
          candidates(event).select do |rule|
            !(event.cause_rule && event.cause_rule == rule.id) &&
              (broken ? hit_or_tell(rule, facts, &broken) : rule.hit(facts))
          end
        (met.size > 1) ? met.sort_by { |rule| @order[rule] } : met
      end

      private

      def hit_or_tell(rule, facts)
        rule.hit(facts)
      rescue => error
        yield(rule, error)
        nil
      end

      # What is started by hand or over all records that match, and what a timer fires, meets one rule alone.
      def addressed(event) = @by_id[event.detail["rule"]]&.then { |rule| (rule.kind.key == event.kind) ? rule : nil }

      def keys(event)
        kind = event.kind
        case event.what
        when "record_made"
          event.detail["door"] ? [[kind, "made"], [kind, "door", event.detail["door"]]] : [[kind, "made"]]
        when "record_changed"
          [[kind, "any"], *event.changed_fields.map { |field| [kind, "field", field] }]
        when "linked"
          [[kind, "linked"]]
        when "put_on_list"
          [[kind, "list", event.detail["list"]]]
        when "interaction_logged"
          [[kind, "interaction"], *event.codes.map { |code| [kind, "code", code] }]
        when "task_made", "task_changed", "task_done", "task_dropped", "task_late"
          [[kind, "task", event.what]]
        when "note_edited"
          event.codes.map { |code| [kind, "code", code] }
        else
          []
        end
      end
    end
  end
end
