# frozen_string_literal: true

require "json"
require "parallel_tests"
require "parallel_tests/grouper"

module Lanes
  # Which lane runs which spec files, so that all end at about the same time: by how long each took when it last ran.
  class Shares
    # Of the last runs on this machine, and of some run on another one, for a machine that knows none yet.
    HERE = "tmp/lanes/seconds.json"
    KEPT = "spec/lanes/seconds.json"
    # Seconds for each line of a file that nobody has timed.
    A_LINE = 0.02

    # @param folder [String] of the project
    def initialize(folder)
      @folder = folder
    end

    # @param files [Array<String>]
    # @param lanes [Integer]
    # @return [Array<Array<String>>] none of them empty
    def of(files, lanes)
      timed = files.map { |file| [file, seconds.fetch(file) { File.foreach(at(file)).count * A_LINE }] }
      ParallelTests::Grouper.in_even_groups_by_size(timed, [lanes, files.size].min).reject(&:empty?)
    end

    # @param files [Hash{String => Float}] seconds that they took
    def note(files)
      all = seconds.merge(files.transform_values { |took| took.round(2) }).select { |file, _| File.exist?(at(file)) }
      File.write(at(HERE), JSON.pretty_generate(all.sort.to_h) + "\n")
    end

    private

    def seconds = @seconds ||= read(KEPT).merge(read(HERE))
    def read(path) = File.exist?(at(path)) ? JSON.parse(File.read(at(path))) : {}
    def at(path) = File.join(@folder, path)
  end
end
