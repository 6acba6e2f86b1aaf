# frozen_string_literal: true

require "yenvo/engine"

module Yenvo
  # Puts a process together from the environment.
  module Boot
    module_function

    # @param env [Hash{String => String}]
    # @return [Web::House]
    def house(env)
      require "yenvo/web"
      settings = Settings.load(env)
      log(env)
      root = Store::Root.open(settings.database_url, connections: env.fetch("YENVO_THREADS", "8").to_i + 4)
      root.files = settings.files if settings.files
      Web::House.new(root: root, clock: clock = Clock.new(start: settings.clock_start, moved: root.moved_clock), settings: settings, live: Web::Live.new(root, clock: clock))
    end

    # @return [Engine::Worker]
    def worker(env)
      settings = Settings.load(env)
      log(env)
      root = Store::Root.open(settings.database_url, connections: 2)
      root.files = settings.files if settings.files
      Engine::Worker.new(root, clock: Clock.new(start: settings.clock_start, moved: root.moved_clock), poll_seconds: settings.poll_seconds, batch_size: settings.batch_size)
    end

    # Logs as JSON lines to standard error.
    def log(env)
      SemanticLogger.default_level = env.fetch("YENVO_LOG", "info").to_sym
      SemanticLogger.sync! if SemanticLogger.appenders.empty?
      SemanticLogger.add_appender(io: $stderr, formatter: :json) if SemanticLogger.appenders.empty?
    end
  end
end
