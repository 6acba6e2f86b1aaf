# frozen_string_literal: true

require "json"
require_relative "reach"
require "rspec/core/formatters/base_formatter"

module Lanes
  # What a lane tells of itself: a dot for each example as it goes, and a file with how long each file, example and
  # set-up took, from which the next run is shared out.
  class Recorder < RSpec::Core::Formatters::BaseFormatter
    RSpec::Core::Formatters.register self, :example_started, :example_passed, :example_failed, :example_pending,
      :example_group_started, :example_group_finished, :message, :dump_summary, :close

    # @param output [IO] the file
    def initialize(output)
      super
      @files = Hash.new(0)
      @reach = {}
      @examples = []
      @messages = []
      @depth = 0
    end

    def example_group_started(notification)
      @began = now if @depth.zero?
      @depth += 1
      super
    end

    def example_group_finished(notification)
      @depth -= 1
      return unless @depth.zero?

      file = short(notification.group.metadata[:absolute_file_path])
      @files[file] += now - @began
      (@reach[file] ||= []).concat(Reach.look) if Coverage.running?
    end

    def example_started(notification)
      SetUps.example = notification.example.location_rerun_argument if defined?(SetUps)
    end

    def example_passed(notification) = note(notification.example, ".")
    def example_failed(notification) = note(notification.example, "F")
    def example_pending(notification) = note(notification.example, "*")

    # What is said of errors outside examples, such as a file that cannot be loaded.
    def message(notification) = @messages << notification.message

    def dump_summary(summary)
      @summary = {
        "examples" => summary.example_count, "failures" => summary.failure_count, "pending" => summary.pending_count,
        "outside" => summary.errors_outside_of_examples_count
      }
    end

    def close(_notification)
      set_ups = defined?(SetUps) ? SetUps.all : []
      output.write(JSON.generate(
        "summary" => @summary, "files" => @files, "reach" => @reach, "examples" => @examples, "set_ups" => set_ups,
        "messages" => @messages
      ))
    end

    private

    def note(example, sign)
      $stdout.print(sign)
      $stdout.flush
      @examples << {
        "at" => example.location_rerun_argument, "file" => short(example.metadata[:absolute_file_path]),
        "words" => example.full_description, "seconds" => example.execution_result.run_time,
        "status" => example.execution_result.status
      }
    end

    def now = RSpec::Core::Time.now
    def short(path) = path.delete_prefix("#{Dir.pwd}/")
  end
end
