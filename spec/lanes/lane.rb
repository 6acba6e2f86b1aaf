# frozen_string_literal: true

require "json"
require "open3"
require "rbconfig"

module Lanes
  # One process of RSpec with a share of the files. It has a database server, folders and a browser of its own.
  class Lane
    # Nothing in these databases has to outlive a power cut.
    DATABASE = {
      "YENVO_BUFFER_POOL" => "512M", "YENVO_DATABASE_OPTIONS" => "--innodb-flush-log-at-trx-commit=0 " \
        "--innodb-flush-method=nosync --innodb-doublewrite=0"
    }.freeze

    attr_reader :name, :files

    # @param name [String]
    # @param files [Array<String>]
    # @param options [Array<String>] for RSpec
    def initialize(name, files, options: [])
      @name = name
      @files = files
      @options = options
      @database = "tmp/test-db-#{name}"
      @log = "tmp/lanes/#{name}.log"
      @record = "tmp/lanes/#{name}.json"
    end

    def start
      [@log, @record].each { |path| File.write(path, "") }
      @began = now
      env = {"TEST_LANE" => name, "TEST_SERVER_URL" => start_database}
      @pid = spawn(env, RbConfig.ruby, "-r", "./spec/lanes/reach", "-S", "rspec", "--require", "./spec/lanes/recorder",
        "--force-color", "--format", "Lanes::Recorder", "--out", @record, "--format", "progress", "--out", @log,
        *@options, *@files, pgroup: true)
      self
    end

    # Waits for its end.
    def finish
      _, @status = Process.wait2(@pid)
      @seconds = now - @began
      self
    end

    # Ends it with all that it has started.
    def stop
      Process.kill("TERM", -@pid) if @pid && @status.nil?
    rescue Errno::ESRCH
      nil
    ensure
      system("bin/database", "stop", @database) if File.exist?(@database)
    end

    # @return [Float]
    attr_reader :seconds

    # @return [Boolean]
    def green? = @status.success? && ended?

    # @return [Integer]
    def count(what) = told.dig("summary", what) || 0

    # @return [Array<Hash>] what ran
    def examples = told["examples"] || []

    # @return [Array<Hash>] what was set up
    def set_ups = told["set_ups"] || []

    # @return [Hash{String => Array<String>}] by spec file: which files of lib it went through
    def reach = (told["reach"] || {}).transform_values { |paths| paths.uniq.sort }

    # @return [Hash{String => Float}]
    def seconds_by_file = told["files"] || {}

    # @return [Array<String>] what is said of a lane that is not green
    def complaints
      failures = File.read(@log)[/^Failures:.*?(?=^Finished in|\z)/m]
      return [failures || told["messages"].join("\n")] if ended?

      ["Lane #{name} broke off (#{@status}); how far it came stands in #{@log}:", File.readlines(@log).last(15).join]
    end

    private

    def start_database
      said, status = Open3.capture2(DATABASE, "bin/database", "start", @database)
      status.success? ? said.strip : raise("The database of lane #{name} does not start; see #{@database}/server.log.")
    end

    def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    def ended? = !told["summary"].nil?

    def told
      @told ||= JSON.parse(File.read(@record))
    rescue JSON::ParserError
      {}
    end
  end
end
