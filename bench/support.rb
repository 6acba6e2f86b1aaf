# frozen_string_literal: true

ENV["BUNDLE_GEMFILE"] ||= File.expand_path("../Gemfile", __dir__)
require "bundler/setup"
$LOAD_PATH.unshift File.expand_path("../lib", __dir__)

# What the benchmarks share: a database of their own, medians, and the line that each figure is printed on.
module Bench
  NOW = Time.utc(2026, 11, 24, 12)
  FOLDER = File.expand_path("../tmp/bench-db", __dir__)

  module_function

  # @return [Yenvo::Store::Root] a fresh database with the bare boatyard
  def root
    require_relative "../demo/load"
    SemanticLogger.default_level = :error
    server = `#{File.expand_path("../bin/database", __dir__)} start #{FOLDER}`.strip
    at_exit { system(File.expand_path("../bin/database", __dir__), "stop", FOLDER) }
    Sequel.connect(server) do |db|
      db.run("DROP DATABASE IF EXISTS bench") || db.run("CREATE DATABASE bench CHARACTER SET utf8mb4")
    end
    Yenvo::Store::Root.open("#{server}/bench", connections: 4).tap do |root|
      root.migrate
      Demo.load(root, now: NOW, bare: true)
    end
  end

  def cause(at = NOW) = Yenvo::Store::Journal::Cause.person("hollie", at)

  # @return [Float] seconds that the block took
  def seconds
    GC.start
    began = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    yield
    Process.clock_gettime(Process::CLOCK_MONOTONIC) - began
  end

  def median(values) = values.sort[values.size / 2]

  # One figure that is held to a bound.
  def ratio(name, value) = puts(format("ratio %s %.3f", name, value))

  # A figure for reading.
  def note(text) = puts("# #{text}")

  # Publishes a rule written as in a rule file.
  def publish(root, plain)
    rule =
      Yenvo::Core::RuleReader.read!(
        {"format" => "yenvo-rule/1", "record" => "deal", "how_often" => "every_time"}.merge(plain)
      )
    row = root.rules.make(rule, cause:)
    root.rules.publish(row[:id], rule, cause:)
  end

  def call_the_owner
    [
      {
        "action" => "task", "title" => "Call about {{ record.title }}", "way" => "call", "assign" => {"to" => "owner"},
        "fallback" => {"to" => "queue", "queue" => "callbacks"},
        "due" => {"count" => 1, "unit" => "working_days", "at" => "09:00"}
      }
    ]
  end
end
