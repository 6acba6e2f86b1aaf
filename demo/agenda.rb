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
    # @param before [#call] told the moment of each step before it is taken
    # @yieldparam at [Time] after each step
    # @return [Integer] steps taken
    def run(till:, before: nil)
      taken = 0
      until @steps.empty? || @steps[0][0][0] > till
        before&.call(@steps[0][0][0])
        # What came meanwhile may have added an earlier one.
        place, step = @steps.shift
        step.call(place[0])
        yield place[0]
        taken += 1
      end
      taken
    end
  end
end
