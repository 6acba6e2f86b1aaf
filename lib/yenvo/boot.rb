# frozen_string_literal: true

require "yenvo/engine"

module Yenvo
  # Puts a process together from the environment.
  module Boot
    # Seconds that a call, or a worker, waits for a lock that somebody else holds.
    WEB_LOCK_SECONDS = 4
    WORKER_LOCK_SECONDS = 20

    module_function

    # @param env [Hash{String => String}]
    # @return [Web::House]
    def house(env)
      require "yenvo/web"
      settings = Settings.load(env).fit_for_web!
      log(env)
      root = store(settings, connections: env.fetch("YENVO_THREADS", "8").to_i + 4, lock_seconds: WEB_LOCK_SECONDS)
      clock = Clock.new(start: settings.clock_start, moved: root.moved_clock)
      house = Web::House.new(root:, clock:, settings:, live: Web::Live.new(root, clock:))
      Web::Health.serve(house, port: settings.health_port) if settings.health_port
      house
    end

    # @return [Engine::Worker]
    def worker(env)
      settings = Settings.load(env)
      log(env)
      root = store(settings, connections: 2, lock_seconds: WORKER_LOCK_SECONDS)
      clock = Clock.new(start: settings.clock_start, moved: root.moved_clock)
      Engine::Worker.new(root, clock:, poll_seconds: settings.poll_seconds, batch_size: settings.batch_size)
    end

    # What sends beside a worker.
    # @return [Engine::Sender]
    def sender(env)
      settings = Settings.load(env)
      root = store(settings, connections: Engine::Sender::LANES, lock_seconds: WORKER_LOCK_SECONDS)
      clock = Clock.new(start: settings.clock_start, moved: root.moved_clock)
      Engine::Sender.new(root, clock:,
        ways: Engine::Ways.of(root, settings, clock, links: links(root, settings, clock)))
    end

    # @return [Postbox]
    def postbox(env)
      settings = Settings.load(env)
      root = store(settings, connections: 1, lock_seconds: WORKER_LOCK_SECONDS)
      Postbox.new(root, clock: Clock.new(start: settings.clock_start, moved: root.moved_clock))
    end

    # Makes links with which a new password is chosen; what signs people in is only loaded when one is asked for.
    # @return [Proc] from an address to a link, or nil
    def links(root, settings, clock)
      lambda do |email|
        require "yenvo/web"
        person = root.db[:people].where(email:, active: true).first or return
        path = Web::SignIn.link(Web::SignIn.for(root), email, Web::Setups::FORGOTTEN)
        words = "asked by mail for a link with which #{person[:name]} chooses a password"
        root.audit.note("sign_in", words, who: nil, at: clock.now, about: "people #{person[:key]}")
        "#{settings.address}#{path}"
      end
    end

    # @return [Store::Root]
    def store(settings, connections:, lock_seconds:)
      root = Store::Root.open(settings.database_url, connections:, lock_seconds:)
      root.files = settings.files if settings.files
      root.secret = settings.session_secret
      root
    end

    # Logs as JSON lines to standard error.
    def log(env)
      SemanticLogger.default_level = env.fetch("YENVO_LOG", "info").to_sym
      SemanticLogger.sync! if SemanticLogger.appenders.empty?
      SemanticLogger.add_appender(io: $stderr, formatter: :json) if SemanticLogger.appenders.empty?
    end
  end
end
