# frozen_string_literal: true

require "fileutils"
require "json"
require "optparse"
require_relative "changed"
require_relative "lane"
require_relative "lint"
require_relative "shares"

# How bin/test runs: RSpec in lanes side by side, lint and types beside them.
module Lanes
  # bin/test, once everything is installed.
  class Command
    FOLDER = File.expand_path("../..", __dir__)
    LANES = 2
    LAST = "tmp/lanes/last.json"
    QUICK = ["--tag", "~slow"].freeze

    # @param arguments [Array<String>] as bin/test got them
    def initialize(arguments)
      @lanes = LANES
      @seed = rand(65_536)
      @files = OptionParser.new { |options| describe(options) }.parse(arguments)
    end

    # @return [Boolean] whether all is green
    def run
      Dir.chdir(FOLDER)
      FileUtils.mkdir_p("tmp/lanes")
      return print_slowest if @slowest

      return run_changed if @changed

      @files.empty? ? run_files(all_files, lint: true) : run_files(@files, lint: false)
    end

    private

    def describe(options)
      options.banner = "bin/test [options] [spec files]"
      options.on("--quick", "without the browser, and without what is tagged slow") { @quick = true }
      options.on("--changed", "what the files that git names as changed reach") { @changed = true }
      options.on("--slowest", "runs nothing: the slowest examples and set-ups of the last run") { @slowest = true }
      options.on("--seed N", Integer, "in the order of this number") { |seed| @seed = seed }
      options.on("--lanes N", Integer, "how many run side by side (#{LANES})") { |lanes| @lanes = lanes }
    end

    def all_files
      files = Dir["spec/**/*_spec.rb"].sort
      @quick ? files.grep_v(%r{\Aspec/(browser|cli)/}) : files
    end

    def run_files(files, lint:)
      began = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      @beside = Lint.new.start if lint
      @running = lanes(files)
      @running.map { |lane| Thread.new { lane.start } }.each(&:join)
      [*@running, @beside].compact.each(&:finish)
      tell(Process.clock_gettime(Process::CLOCK_MONOTONIC) - began)
    ensure
      [*@running, @beside].compact.each(&:stop)
    end

    def run_changed
      changed = Changed.files
      specs = Changed.new(all_files, reach: Changed.reach).specs(changed)
      puts "#{changed.size} changed files reach #{specs.size} of #{all_files.size} spec files."
      run_files(specs, lint: changed.any? { |path| path.start_with?("ui/") })
    end

    # Files that are named with a line are no files to time, and run in one lane.
    def lanes(files)
      files = files.flat_map { |path| File.directory?(path) ? Dir["#{path}/**/*_spec.rb"].sort : path }
      alone = @parts = files.any? { |file| !File.file?(file) }
      options = ["--seed", @seed.to_s, *(@quick ? QUICK : [])]
      shares = alone ? [files] : Shares.new(FOLDER).of(files, @lanes)
      shares.each_with_index.map { |share, index| Lane.new((index + 1).to_s, share, options:) }
    end

    def tell(seconds)
      keep
      puts "", ""
      @running.each { |lane| puts(lane.complaints) unless lane.green? }
      puts "Lint and types", @beside.complaints unless @beside.nil? || @beside.green?
      puts times(seconds), *red
      # As RSpec closes, with the sum of all lanes.
      puts closing_line
      green?
    end

    def closing_line
      parts = [several("examples", "example"), several("failures", "failure")]
      parts << "#{sum("pending")} pending" if sum("pending").positive?
      parts << "#{several("outside", "error")} occurred outside of examples" if sum("outside").positive?
      parts.join(", ")
    end

    def several(what, word) = "#{sum(what)} #{word}#{"s" unless sum(what) == 1}"

    def green? = [*@running, @beside].compact.all?(&:green?)
    def sum(what) = @running.sum { |lane| lane.count(what) }

    def times(seconds)
      lanes = @running.map { |lane| "lane #{lane.name} #{minutes(lane.seconds)}" }
      lanes << "lint and types #{minutes(@beside.seconds)}" if @beside
      "Finished in #{minutes(seconds)} (#{lanes.join(", ")}), randomized with seed #{@seed}"
    end

    def minutes(seconds)
      whole, rest = seconds.round.divmod(60)
      whole.zero? ? "#{rest} s" : "#{whole} min #{rest} s"
    end

    # Each thing that is red, named once more at the end, with how to run it alone.
    def red
      named = @running.flat_map do |lane|
        failed = lane.examples.select { |example| example["status"] == "failed" }
        names = failed.map { |example| "  bin/test #{example["at"]} # lane #{lane.name}: #{example["words"]}" }
        names << "  lane #{lane.name}: see tmp/lanes/#{lane.name}.log" if names.empty? && !lane.green?
        names
      end
      named << "  lint and types: see #{Lint::LOG}" unless @beside.nil? || @beside.green?
      named.any? ? ["", "Red:", *named, ""] : []
    end

    # What ran in part says nothing of how long a whole file takes, nor of all that it reaches.
    def keep
      unless @quick || @parts
        Shares.new(FOLDER).note(@running.map(&:seconds_by_file).inject({}, :merge))
        File.write(Changed::REACH, JSON.generate(Changed.reach.merge(*@running.map(&:reach))))
      end
      File.write(LAST, JSON.generate(
        "examples" => @running.flat_map(&:examples), "set_ups" => @running.flat_map(&:set_ups)
      ))
    end

    def print_slowest
      abort "Nothing has run here yet; run bin/test first." unless File.exist?(LAST)

      last = JSON.parse(File.read(LAST))
      puts "The slowest examples of the last run, with what is set up for each"
      puts(last["examples"].max_by(25) { |one| one["seconds"] }.map { |one| line(one, one["words"]) })
      puts "", "The slowest set-ups"
      puts(last["set_ups"].max_by(25) { |one| one["seconds"] }.map { |one| line(one, one["what"]) })
      puts "", "All set-ups"
      by_what = last["set_ups"].group_by { |one| one["what"] }
      sums = by_what.map { |what, all| [all.sum { |one| one["seconds"] }, all.size, what] }
      puts(sums.sort.reverse.map { |sum, count, what| format("%7.1f s  %4d times  %s", sum, count, what) })
      true
    end

    def line(one, words) = format("%7.1f s  %-50s %s", one["seconds"], one["at"], words)
  end
end
