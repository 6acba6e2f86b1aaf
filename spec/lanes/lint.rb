# frozen_string_literal: true

module Lanes
  # Style and types, beside the lanes: each check a command, one after the other.
  class Lint
    RUBY = %w[lib demo spec bench db config.ru config.puma.rb Gemfile bin/yenvo bin/house].freeze
    CHECKS = {
      "style of Ruby" => [%w[bundle exec rubocop --format clang --no-display-cop-names] + RUBY, "."],
      "each constant from its file" => [["bundle", "exec", "ruby", "-Ilib", "-e",
        'require "yenvo/boot"; require "yenvo/web"; Yenvo::LOADER.eager_load'], "."],
      "types and style of the ui" => [%w[npm run --silent check], "ui"],
      "examples of the ui" => [%w[npm run --silent test], "ui"]
    }.freeze
    LOG = "tmp/lanes/lint.log"

    # @return [Float] seconds
    attr_reader :seconds

    def initialize
      @failed = []
    end

    def start
      @began = now
      File.write(LOG, "")
      @thread = Thread.new { CHECKS.each { |name, (words, folder)| check(name, words, folder) } }
      self
    end

    def finish
      @thread.join
      @seconds = now - @began
      self
    end

    def stop
      Process.kill("TERM", -@pid) if @pid
      @thread&.kill
    rescue Errno::ESRCH
      nil
    end

    def green? = @failed.empty?

    # @return [Array<String>]
    def complaints = @failed.flat_map { |name, said| ["#{name}:", said] }

    private

    def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)

    def check(name, words, folder)
      began = now
      said, writes = IO.pipe
      @pid = spawn(*words, chdir: folder, out: writes, err: writes, in: File::NULL, pgroup: true)
      writes.close
      text = said.read
      _, status = Process.wait2(@pid)
      @pid = nil
      File.write(LOG, "#{name}: #{(now - began).round(1)} s\n#{text}\n", mode: "a")
      @failed << [name, text] unless status.success?
    end
  end
end
