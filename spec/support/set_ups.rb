# frozen_string_literal: true

# How long it takes until an example has what it needs: databases, processes, a browser, large fills.
module SetUps
  class << self
    # @return [String, nil] the example at hand
    attr_accessor :example

    # @return [Array<Hash>] what was set up, for which example, and in how many seconds
    def all = @all ||= []

    # @param what [String]
    # @return [Object] what the block gives
    def time(what)
      began = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      yield
    ensure
      seconds = Process.clock_gettime(Process::CLOCK_MONOTONIC) - began
      all << {"what" => what, "at" => example, "seconds" => seconds}
    end
  end
end
