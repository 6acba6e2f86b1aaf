# frozen_string_literal: true

module Demo
  # Steps in order of time; a step may add others.
  class Agenda
    def initialize
      @steps = []
      @added = 0
    end

    # @param at [Time]
    # @yieldparam at [Time]
    def add(at, &step)
      place = [at, @added += 1]
      index = @steps.bsearch_index { |other, _| (other <=> place) >= 0 } || @steps.size
      @steps.insert(index, [place, step])
    end

    # @param till [Time] steps after it never happen
    # @yieldparam at [Time] after each step
    # @return [Integer] steps taken
    def run(till:)
      taken = 0
      while (place, step = @steps.shift) && place && place[0] <= till
        step.call(place[0])
        yield place[0]
        taken += 1
      end
      taken
    end
  end
end
