# frozen_string_literal: true

module Yenvo
  module Core
    module Timing
      # What all timings share: whether a record can have a timer at all, and which events may move it.
      class Base
        # @return [Array<Need>] what has to be loaded before +due+ can be asked
        attr_reader :rule, :needs

        # @param task [Boolean] whether each task about a record has one, instead of the record
        def initialize(rule, needs: [], task: false)
          @rule = rule
          @task = task
          @needs = needs.uniq.freeze
          steady = steady_items
          @stands = BoundGroup.new("all", steady).to_proc
          @steady_keys = steady.flat_map { |item| keys_of(item) }.uniq
        end

        # @return [String] what the journal calls such a timer
        def name = raise(NotImplementedError)

        # @return [Symbol] whether each :record has one, each :task about it, or the :rule itself
        def per = @task ? :task : :record

        # Conditions that are not met now and that only a change of the record itself can meet leave no timer to wait
        # for.
        # @return [Boolean]
        def stands?(facts)
          return false unless @stands.call(facts)

          per != :task || facts.event.detail.dig("task", "open")
        end

        # @param event [Event]
        # @return [Boolean] whether it may have moved the timer of its record
        def touched?(event)
          return true if %w[record_made record_restored].include?(event.what)
          return event.what.start_with?("task_") if per == :task && event.what != "task_late" && event.detail["task"]

          watched_keys.any? { |key| event.before[key] != event.after&.[](key) }
        end

        # @param event [Event]
        # @return [Boolean] whether the time begins to count anew with it
        def restarts?(_event) = false

        # @return [Array<String>] what the journal calls events about tasks that it has to hear of
        def task_events = (per == :task) ? %w[task_made task_changed task_done task_dropped] : []

        # @param facts [Facts] the record now; the moment of the event is the moment of looking
        # @param since [Time, nil] from when it counts, for timings that begin anew
        # @return [Array(Time, Boolean), nil] the moment, and whether it is one at which to look again and not to fire
        def due(facts, since:) = raise(NotImplementedError)

        # @param facts [Facts] see +due+
        # @return [Time, nil] from when it counts for a record of which nothing more is known
        def since(_facts) = nil

        # @param kept [Keeping]
        # @return [Boolean] whether a moment that has come while no worker ran still counts, whatever comes next
        def overdue?(_kept, _facts) = false

        # @return [Boolean] whether the next moment has to be looked for after it has fired
        def again? = false

        private

        # @return [Array<String>] own fields that move the moment
        def moving_keys = []

        def watched_keys = @watched_keys ||= (moving_keys + @steady_keys).uniq

        def steady_items
          return [] unless rule.only_if.mode == "all"

          rule.only_if.items.select { |item| steady?(item) }
        end

        def steady?(item)
          steady = true
          item.each_leaf { |leaf| steady &&= leaf.steady? }
          steady
        end

        def keys_of(item)
          keys = []
          item.each_leaf { |leaf| keys.push(leaf.reference.field.key, leaf.other&.field&.key) }
          keys.compact
        end
      end
    end
  end
end
