# frozen_string_literal: true

require "json"
require "open3"

module Lanes
  # Which spec files the changed files reach: by what ran when all specs last did, and by names.
  class Changed
    REACH = "tmp/lanes/reach.json"
    # What all examples rest on.
    ALL = %r{
      \A(spec/(support|lanes|fixtures|spec_helper)|Gemfile|db/|demo/|lib/yenvo/(loader|core|store|engine|web)\.rb)
    }x
    # What the browser and the command line run in processes of their own, which nobody looks into.
    APART = {
      %r{\A(ui/|lib/yenvo/web/)} => "spec/browser/", %r{\A(bin/|lib/yenvo/\w+\.rb)} => "spec/cli/",
      %r{\Alib/yenvo/standins/} => "spec/browser/"
    }.freeze
    ALWAYS = %w[spec/core/layout_spec.rb].freeze

    # @param all [Array<String>] spec files
    # @param reach [Hash{String => Array<String>}] by spec file: which files of lib it goes through
    # @param text [#call] gives the text of a file
    def initialize(all, reach:, text: File.method(:read))
      @all = all
      @reach = reach
      @text = text
    end

    # @return [Array<String>] what git calls changed since the last commit, and what it does not know yet
    def self.files
      changed, = Open3.capture2("git", "diff", "--name-only", "HEAD")
      unknown, = Open3.capture2("git", "ls-files", "--others", "--exclude-standard")
      (changed + unknown).split("\n")
    end

    # @return [Hash{String => Array<String>}]
    def self.reach = File.exist?(REACH) ? JSON.parse(File.read(REACH)) : {}

    # @param changed [Array<String>] paths
    # @return [Array<String>] spec files
    def specs(changed)
      return @all if @reach.empty? || changed.any? { |path| path.match?(ALL) }

      (changed.flat_map { |path| reached_by(path) } + ALWAYS).uniq & @all
    end

    private

    def reached_by(path)
      apart = APART.filter_map { |pattern, folder| folder if path.match?(pattern) }
      [path, *through(path), *@all.select { |spec| spec.start_with?(*apart) && apart.any? }]
    end

    # Those that ran it, and those that name its class: a table of constants is read without a line of it being run.
    def through(path)
      return [] unless path.match?(%r{\Alib/.*\.rb\z})

      name = /\b#{Regexp.escape(File.basename(path, ".rb").split("_").map(&:capitalize).join)}\b/
      @all.select { |spec| @reach.fetch(spec, []).include?(path) || @text.call(spec).match?(name) }
    end
  end
end
