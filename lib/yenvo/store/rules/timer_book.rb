# frozen_string_literal: true

module Yenvo
  module Store
    # The rules that time wakes, by what they are about, and those that leave something for later.
    class TimerBook
      # @return [Array<Core::CompiledRule>]
      attr_reader :rules

      # @param compiled [Array<Core::CompiledRule>] all rules that are on or paused
      def initialize(compiled)
        @rules = compiled.select(&:timing)
        @by_kind = @rules.reject { |rule| rule.timing.per == :rule }.group_by { |rule| rule.kind.key }
        @hears = (@rules.flat_map { |rule| of_timing(rule) } + compiled.flat_map { |rule| of_waits(rule) }).to_set
        @looking =
          @by_kind.values.flatten.flat_map { |rule| uses(rule, of_record(rule, rule.timing.needs)) } +
          compiled.flat_map do |rule|
            rule.later.grep(Core::Actions::Wait).flat_map { |wait| uses(nil, of_record(rule, wait.needs_to_wait)) }
          end
      end

      # @return [Array<Core::CompiledRule>] those with a timer for each record of the kind, or each task about one
      def of(kind) = @by_kind.fetch(kind, NONE)

      # @return [Boolean] whether what happens to a task about such a record has to be told
      def hears?(kind, what) = @hears.include?([kind, what])

      # @return [Array<Array(Core::CompiledRule, Hash)>] rule (nil for waits) and what it looks at beyond its own record
      #   (see Dependents)
      attr_reader :looking

      # @return [Core::CompiledRule, nil]
      # @return [Array<Core::CompiledRule>] those that a calendar wakes again and again, for each record
      def calendars = rules.select { |rule| rule.timing.per == :rule && !rule.timing.once? }

      def find(id) = rules.find { |rule| rule.id == id }

      NONE = [].freeze
      # What a wait of a rule about tasks may end with.
      STEPS = %w[task_changed task_done task_dropped].freeze
      private_constant :NONE, :STEPS

      private

      # A rule about tasks looks at records over the one that its task is about, and hears of that anyway.
      def of_record(rule, needs) = rule.kind.task? ? needs.map { |need| need.with(chain: need.chain.drop(1)) } : needs

      def of_timing(rule) = rule.timing.task_events.map { |what| [rule.kind.key, what] }

      def of_waits(rule)
        return NONE unless rule.kind.task? && rule.later.any?(Core::Actions::Wait)

        STEPS.map { |what| [rule.kind.key, what] }
      end

      def uses(rule, needs) =
        Dependents.uses(needs).reject { |use| use[:chain].empty? && use[:over].nil? }.map { |use| [rule, use] }
    end
  end
end
