# frozen_string_literal: true

module Yenvo
  module Core
    # Finds the rules that an event meets, out of all that are in force, without going through them. Rules stand under
    # kind and what they watch, within that under the new value where they ask for one, and within that under one more
    # value that they require of some field.
    class Matcher
      ADDRESSED = %w[started timer_fired].freeze

      attr_reader :rules, :order

      # @param rules [Array<CompiledRule>] in the order in which they shall run
      def initialize(rules)
        @rules = rules
        @order = {}.compare_by_identity
        rules.each_with_index { |rule, index| @order[rule] = index }
        @several = rules.any? { |rule| rule.trigger.all.size > 1 }
        @by_id = rules.to_h { |rule| [rule.id, rule] }
        @watching = gathered(rules)
        @shelves =
          @watching.transform_values do |things|
            things.transform_values { |keys| keys.transform_values { |all| Shelf.of_trigger(all) } }
          end
      end

      # @param event [Event]
      # @return [Array<CompiledRule>] rules worth asking; no other can be met
      def candidates(event)
        return [addressed(event)].compact if ADDRESSED.include?(event.what)

        found = []
        each_key(event, @shelves) { |shelf| shelf.collect(event.after, found) }
        found
      end

      # @param event [Event]
      # @return [Array<CompiledRule>] all rules that watch what the event touched, met or not, in order
      def watching(event)
        return [addressed(event)].compact if ADDRESSED.include?(event.what)

        found = []
        each_key(event, @watching) { |rules| found.concat(rules) }
        found.uniq.sort_by { |rule| @order[rule] }
      end

      # @return [Boolean] whether any rule watches such a thing about records of the kind
      def watches?(kind, thing, key = nil) = !@watching.dig(kind, thing, key).nil?

      # The rule that an event meets first of those after a place in the order, for rules that run one after the other,
      # each seeing what the earlier one changed.
      # @param after [Integer] place, -1 for the beginning
      # @yield as +hits+ does
      # @return [Array(CompiledRule, Integer), nil]
      def next_hit(facts, after, &broken)
        rule = candidates(facts.event).select { |one| @order[one] > after }.sort_by { |one| @order[one] }
          .find { |one| ask(one, facts, &broken) }
        rule && [rule, @order[rule]]
      end

      # @param facts [Facts]
      # @yieldparam rule [CompiledRule] one that broke when it was asked
      # @yieldparam error [StandardError] without a block it is raised
      # @return [Array<CompiledRule>] those that run, in order; how often each may run is not looked at
      def hits(facts, &broken)
        event = facts.event
        return [] if event.depth >= CompiledRule::MAX_DEPTH

        own = event.cause_rule
        met = candidates(event).select { |rule| (own.nil? || own != rule.id) && ask(rule, facts, &broken) }
        return met if met.size < 2

        # A rule of several triggers may be found under more than one of them.
        met.uniq! if @several
        met.sort_by { |rule| @order[rule] }
      end

      private

      # @yield as +hits+ does
      def ask(rule, facts)
        ADDRESSED.include?(facts.event.what) ? rule.hit(facts) : rule.hit_beyond_key(facts)
      rescue => error
        raise unless block_given?

        yield(rule, error)
        nil
      end

      # What is started by hand or over all records that match, and what a timer fires, meets one rule alone.
      def addressed(event)
        rule = @by_id[event.detail["rule"]]
        rule if rule && rule.kind.key == event.kind
      end

      # @return [Hash] by kind, thing and key (nil for none) the rules that watch it
      def gathered(rules)
        all = {}
        rules.each do |rule|
          rule.trigger.watch_keys.each do |thing, key|
            (((all[rule.kind.key] ||= {})[thing] ||= {})[key] ||= []) << rule
          end
        end
        all
      end

      # Yields what stands under each key that the event touches.
      # @param table [Hash] by kind, thing and key
      def each_key(event, table, &found)
        things = table[event.kind] or return
        case event.what
        when "record_changed"
          found_under(things["any"], [nil], &found)
          found_under(things["field"], event.changed_fields, &found)
        when "record_made"
          found_under(things["made"], [nil], &found)
          found_under(things["door"], [event.detail["door"]], &found)
        when "linked" then found_under(things["linked"], [nil], &found)
        when "record_merged" then found_under(things["merged"], [nil], &found)
        when "put_on_list" then found_under(things["list"], [event.detail["list"]], &found)
        when "interaction_logged"
          found_under(things["interaction"], [nil], &found)
          found_under(things["code"], event.codes, &found)
        when "note_edited" then found_under(things["code"], event.codes, &found)
        when *TASKS then found_under(things["task"], [event.what], &found)
        end
      end

      TASKS = %w[task_made task_changed task_done task_dropped task_late].freeze
      private_constant :TASKS

      def found_under(keys, wanted)
        return unless keys

        wanted.each { |key| (under = keys[key]) && yield(under) }
      end
    end
  end
end
