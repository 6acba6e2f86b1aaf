# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # How far a copy of a kit has come, worked out from what its tasks came to. A pure function: asked again, it says
      # the same. A task comes when one of its ways in is whole. It is not needed when none of them can become whole any
      # more. A part of a task comes with it, or later by ways of its own, and is not needed where that is not.
      class Progress
        # What a task came to. over: false while it is open; answer: how it was finished, nil where it asks for none,
        # was dropped or was skipped.
        State = Value.define(:over, :answer) do
          def self.open = new(over: false, answer: nil)
          def self.over(answer = nil) = new(over: true, answer:)
        end

        # @param kit [Kit]
        # @param states [Hash{String => State}] by key, those that have come
        def initialize(kit, states)
          @kit = kit
          @states = states
          @gone = find_gone
        end

        # @return [Array<String>] keys of the tasks whose turn has come and that are not there yet
        def due =
          @due ||= @kit.tasks.select { |task| !@states.key?(task.key) && comes?(task) }.map(&:key)

        # @return [Array<String>] keys of those whose turn never comes
        def not_needed = @gone.to_a

        # @return [Array<String>] keys of those that may come yet
        def waiting = @kit.tasks.map(&:key) - @states.keys - due - not_needed

        # @return [Boolean] whether nothing is left to do and nothing can come
        def over? = due.empty? && @states.values.all?(&:over) && waiting.empty?

        # @return [Symbol] :open, :over, :due, :not_needed or :waiting
        def of(key)
          state = @states[key]
          return state.over ? :over : :open if state

          (due.include?(key) && :due) || (@gone.include?(key) && :not_needed) || :waiting
        end

        private

        def comes?(task) =
          (task.under.nil? || here?(task.under)) &&
            (task.after.empty? || task.after.any? { |steps| steps.all? { |step| met?(step) } })

        # Has come, or comes now.
        def here?(key) = @states.key?(key) || ((task = @kit.task(key)) && comes?(task))

        def met?(step)
          state = @states[step.task]
          (state&.over && [nil, state.answer].include?(step.answer)) || false
        end

        def never?(step, gone)
          state = @states[step.task]
          return gone.include?(step.task) unless state

          state.over && !met?(step)
        end

        def no_way?(task, gone) =
          task.after.any? && task.after.all? { |steps| steps.any? { |step| never?(step, gone) } }

        # Grows until it stands still: what only comes after something that never comes, never comes.
        def find_gone
          gone = Set.new
          loop do
            more = @kit.tasks.reject { |task| gone.include?(task.key) || @states.key?(task.key) }
              .select { |task| gone.include?(task.under) || no_way?(task, gone) }
            return gone if more.empty?

            gone.merge(more.map(&:key))
          end
        end
      end
    end
  end
end
