# frozen_string_literal: true

require "coverage"

# Which files of lib the specs of a lane go through, by spec file. Loaded before anything of Yenvo is.
module Reach
  LIB = File.expand_path("../../lib", __dir__)

  class << self
    def start = Coverage.start(lines: true)

    # @return [Array<String>] files of lib of which lines ran since the last look
    def look
      sums = Coverage.peek_result.filter_map { |path, seen| [path, sum(seen)] if path.start_with?(LIB) }.to_h
      ran = sums.select { |path, count| count != @before.fetch(path, 0) }.keys
      @before = sums
      ran.map { |path| path.delete_prefix("#{File.dirname(LIB)}/") }
    end

    private

    def sum(seen) = seen.fetch(:lines).sum(&:to_i)
  end
  @before = {}
end

# Somebody who measures all of it does so alone.
Reach.start unless ENV["COVERAGE"]
