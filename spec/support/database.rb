# frozen_string_literal: true

require "securerandom"

# A real MariaDB with the boatyard's people, kinds and fields in it, and nothing else.
module Database
  NOW = Time.utc(2026, 11, 24, 12)
  # What keeping a password costs here. A spec holds what it costs otherwise.
  CHEAP = {t_cost: 1, m_cost: 3, p_cost: 1}.freeze
  # Rows from which on a table is made anew instead of being emptied.
  MANY = 2_000
  TABLES = %i[
    words
    views
    bulk_rows
    bulk_changes
    merge_moves
    merged
    merges
    not_alike
    calendar_feeds
    arrivals
    letters
    import_seen
    import_refusals
    import_rows
    imports
    mail_doors
    returned
    doors
    form_sends
    form_versions
    forms
    held_names
    delivery_tries
    deliveries
    paces
    addresses
    rests
    tokens
    handed_over
    unique_values
    trash
    timers
    comments
    fillings
    attachments
    letterhead
    text_versions
    paper_versions
    texts
    papers
    presets
    proposals
    kit_copies
    kits
    kit_versions
    turns
    notices
    fuses
    job_records
    jobs
    stale
    past_links
    tasks
    runs
    rule_spans
    rules
    rule_versions
    waiting
    journal
    interactions
    links
    record_index
    records
    account_active_session_keys
    account_password_reset_keys
    opening
    counts
    failed_sign_ins
  ].freeze

  class << self
    # @return [String] URL of the server, without a database
    def server = ENV.fetch("TEST_SERVER_URL") { raise "Run the specs through bin/test, which starts a database." }

    # @return [String] of this lane alone, so that several can use one server (see bin/test)
    def name(of) = ["yenvo", of, ENV["TEST_LANE"]].compact.join("_")

    # @return [String] URL of a fresh database with the bare boatyard in it
    def make(name) = SetUps.time("a database of the boatyard") { make_empty(name).tap { |url| fill(url) } }

    # @return [String] URL of a fresh database with all tables, and nobody in it
    def make_migrated(name) = make_empty(name).tap { |url| migrate(url) }

    # @return [String] URL of a fresh database without tables
    def make_empty(name)
      Sequel.connect(server) do |db|
        db.run "DROP DATABASE IF EXISTS #{name}"
        db.run "CREATE DATABASE #{name} CHARACTER SET utf8mb4"
      end
      "#{server}/#{name}"
    end

    # @return [Yenvo::Store::Root] the one that specs share
    def root
      @root ||= begin
        require "yenvo/engine"
        Yenvo::Store::Passwords.cost = CHEAP
        Yenvo::Store::Root.open(make(name("spec")), connections: 12).tap { |root| root.files = files }
      end
    end

    def url = "#{server}/#{name("spec")}"

    # @return [String] folder for the files of this lane alone
    def files = File.expand_path("../../tmp/lanes/files-#{ENV.fetch("TEST_LANE", "own")}", __dir__)

    # Takes away all that an example committed.
    def clear
      empty(root.db)
      root.db[:epochs].exclude(what: "setup").delete
      clear_audit(root.db)
    end

    # Empties all tables that may hold what an example left. Most of them are empty, and one question tells which.
    # Numbers go on from where they were: processes that run remember them.
    def empty(db)
      db.synchronize do
        db.run "SET FOREIGN_KEY_CHECKS=0"
        filled(db).each { |table| many?(db, table) ? truncate(db, table) : db[table].delete }
        db.run "SET FOREIGN_KEY_CHECKS=1"
      end
    end

    # It lets nobody take rows away, but by doing away with all of it.
    def clear_audit(db) = db[:audit].empty? || db.run("TRUNCATE audit")

    # Makes a database of that address with the bare boatyard in it.
    def fill_at(url)
      require "yenvo/engine"
      server, name = url.match(%r{\A(.+)/(\w+)\z}).captures
      Sequel.connect(server) { |db| db.run "CREATE DATABASE #{name} CHARACTER SET utf8mb4" }
      fill(url)
    end

    private

    def filled(db)
      any = TABLES.map { |table| "EXISTS (SELECT 1 FROM #{table}) AS #{table}" }
      db.fetch("SELECT #{any.join(", ")}").first.select { |_, there| there == 1 }.keys
    end

    def many?(db, table) = db.fetch("SELECT 1 FROM #{table} LIMIT 1 OFFSET #{MANY}").any?

    def truncate(db, table)
      next_id = db.fetch("SELECT AUTO_INCREMENT AS next_id FROM information_schema.TABLES WHERE TABLE_SCHEMA = " \
        "DATABASE() AND TABLE_NAME = ?", table.to_s).get(:next_id)
      db.run "TRUNCATE #{table}"
      db.run "ALTER TABLE #{table} AUTO_INCREMENT = #{next_id}" if next_id
    end

    def fill(url)
      require_relative "../../demo/load"
      Yenvo::Store::Passwords.cost = CHEAP
      DatabaseTemplate.copy(url, "bare") do
        migrate(url)
        at(url) { |root| Demo.load(root, now: NOW, bare: true) }
      end
    end

    def migrate(url) = DatabaseTemplate.copy(url, "migrated") { at(url, &:migrate) }

    def at(url)
      root = Yenvo::Store::Root.open(url, connections: 1)
      yield root
    ensure
      root&.db&.disconnect
    end
  end

  # For groups of examples.
  module Once
    # Sets something up once for all examples of a group; it is rolled back behind the last of them.
    # @param what [String] as it is called where the time of set-ups is told
    def set_up_once(what, &block)
      before(:all) do
        @set_up_once = Fiber.new do
          db.transaction(rollback: :always, auto_savepoint: true) do
            root.forget
            SetUps.time(what) { instance_exec(&block) }
            Fiber.yield
          end
        end
        @set_up_once.resume
      end
      after(:all) { @set_up_once.resume }
    end
  end

  # @return [Yenvo::Store::Root]
  def root = Database.root
  def db = root.db
  def cause(who = "hollie", at: NOW) = Yenvo::Store::Journal::Cause.person(who, at)

  def make(kind, given = {}, who: "hollie", at: NOW, **values) =
    root.records.make(kind, {"title" => "Quiet Hour", **given, **values}, cause: cause(who, at:))

  def change(id, values, who: "hollie", at: NOW, **more) =
    root.records.change(id, values, cause: cause(who, at:), **more)

  # @return [String] key of a text of the set-up
  def a_saved_text(key: nil, who: "maren", at: NOW, **given) =
    Yenvo::Store::Texts.new(root).write(key, {
      "name" => "Welcome", "kind" => "deal", "subject" => "About {{ record.title }}",
      "text" => "Dear {{ record.title }}", **given.transform_keys(&:to_s)
    }, cause: cause(who, at:))

  # @return [String] key of a paper of the set-up
  def a_paper(key: nil, who: "maren", at: NOW, **given) =
    Yenvo::Store::Papers.new(root).write(key, {
      "name" => "Quote", "kind" => "deal", "page" => "a4", "form" => "markdown", "text" => "# For {{ record.title }}",
      **given.transform_keys(&:to_s)
    }, cause: cause(who, at:))

  # Publishes a rule, written as in a rule file, before all that follows.
  # @return [Hash] row of the rule
  def publish(plain = {}, at: NOW, **values)
    plain = plain.merge(values) if plain.is_a?(Hash)
    rule =
      (
        if plain.is_a?(Hash)
          Yenvo::Core::RuleReader.read!(
            {"format" => "yenvo-rule/1", "name" => "A rule", "record" => "deal"}.merge(plain)
          )
        else
          plain
        end
      )
    row = root.rules.make(rule, cause: cause("maren", at:))
    root.rules.publish(row[:id], rule, cause: cause("maren", at:))
    root.rules.find!(row[:id])
  end

  # Publishes a kit of the demo by the name of its file, such as "12-launch".
  # @return [Hash] row of the kit
  # The yard's addresses, where an example needs them.
  def reach_outside
    yard = Demo::Yard.new(root, today: Date.new(2026, 11, 24))
    yard.reach_outside
    yard.write_papers(NOW)
    root.setup_store.changed(who: nil, now: NOW)
    root.forget
  end

  def publish_demo_kit(name, at: NOW)
    kit = Yenvo::Core::Kits::KitFile.parse(File.read(File.expand_path("../../demo/kits/#{name}.yml", __dir__)))
    row = root.kits.make(kit, cause: cause("maren", at:))
    root.kits.publish(row[:id], kit, cause: cause("maren", at:))
    root.forget
    root.kits.find!(row[:id])
  end

  # The rule of most examples: entering Survey booked makes a call for the owner.
  def survey_rule(**changes)
    {
      "name" => "Survey booked", "trigger" => {"when" => "stage_entered", "stages" => ["survey_booked"]},
      "branches" => [
        {
          "do" => [
            {
              "action" => "task", "title" => "Call about {{ record.title }}", "assign" => {"to" => "owner"},
              "fallback" => {"to" => "queue", "queue" => "callbacks"},
              "due" => {"count" => 1, "unit" => "working_days", "at" => "09:00"}
            }
          ]
        }
      ]
    }.merge(changes.transform_keys(&:to_s))
  end

  # Lets a worker settle all that waits.
  # @return [Integer] entries
  def work(at: NOW + 0.05) =
    Yenvo::Engine::Worker.new(root, clock: FixedClock.new(at), log: SemanticLogger["spec"]).drain

  # Lets time pass without a stop: everything that comes due does so in order, each at its moment.
  # @return [Time] where the clock stands then
  def pass(to:, from: @passed_to || NOW)
    to = Time.utc(*to) if to.is_a?(Array)
    Yenvo::Engine::Passing.new(root, log: SemanticLogger["spec"]).pass(from:, to:)
    @passed_to = to
  end

  # @return [Integer] selects that a block sends
  def selects
    log = StringIO.new
    db.loggers << (logger = Logger.new(log))
    yield
    log.string.scan(/\bSELECT\b(?! @@)/).size
  ensure
    db.loggers.delete(logger)
  end

  # @return [Integer] rows that the storage engine was asked for by a block, all on one connection
  def rows_read
    db.synchronize do
      count = -> { db.fetch("SHOW SESSION STATUS LIKE 'Handler_read%'").all.sum { |row| row[:Value].to_i } }
      before = count.call
      yield
      count.call - before
    end
  end

  # @return [Integer] how often the block asks the database
  def statements
    db.synchronize do
      count = -> { db.fetch("SHOW SESSION STATUS LIKE 'Com_select'").first[:Value].to_i }
      before = count.call
      yield
      count.call - before
    end
  end

  # @return [Hash, nil] the sentences by field with which a block was refused
  def refused
    yield
    nil
  rescue Yenvo::Store::Refused => error
    error.fields
  end

  # A clock that stands still.
  FixedClock = Struct.new(:now)
end
