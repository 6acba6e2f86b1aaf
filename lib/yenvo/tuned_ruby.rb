# frozen_string_literal: true

require "rbconfig"

module Yenvo
  # How Ruby runs under web and worker: they make many short-lived strings in bursts, and collecting them at the usual
  # limits costs a tenth of their time; compiling what they do all day gives as much again (bench/engine), for some 60
  # MB. Ruby reads these settings at its start only.
  module TunedRuby
    SETTINGS = {
      "RUBY_GC_MALLOC_LIMIT" => "128000000", "RUBY_GC_MALLOC_LIMIT_MAX" => "256000000",
      "RUBY_GC_OLDMALLOC_LIMIT" => "256000000", "RUBY_GC_HEAP_INIT_SLOTS" => "600000"
    }.freeze

    # Starts this program once more with the settings, unless it has them. They who set one themselves keep theirs.
    def self.ensure!(program, arguments)
      return if SETTINGS.keys.all? { |name| ENV.key?(name) }

      compiler = defined?(RubyVM::YJIT) ? ["--yjit", "--yjit-exec-mem-size=64"] : []
      exec(SETTINGS.merge(ENV.to_h.slice(*SETTINGS.keys)), RbConfig.ruby, *compiler, program, *arguments)
    end
  end
end
