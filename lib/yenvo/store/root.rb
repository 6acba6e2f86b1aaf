# frozen_string_literal: true

require "yenvo/store"

module Yenvo
  module Store
    # One database with all that is kept in it.
    class Root
      OPTIONS = {
        # Left alone, MariaDB turns a filter on a page of a list into a join over all that matches, and sorts that.
        connect_sqls: ["SET SESSION optimizer_switch='exists_to_in=off'"],
        encoding: "utf8mb4", fractional_seconds: true, timezone: "+00:00", connect_timeout: 5, read_timeout: 60,
        sql_mode: "STRICT_TRANS_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION"
      }.freeze
      RETRY = [Sequel::SerializationFailure, Sequel::DatabaseLockTimeout].freeze

      SETUP_SEEN = :yenvo_setup_seen

      attr_reader :db

      # @param url [String] mysql2://...
      # @param connections [Integer] at most
      def self.open(url, connections: 8)
        db = Sequel.connect(url, **OPTIONS, max_connections: connections, pool_timeout: 10)
        db.extension :connection_validator
        db.pool.connection_validation_timeout = 1
        new(db)
      end

      # @param db [Sequel::Database]
      def initialize(db)
        @db = db
        # MariaDB looks nothing up in an index by "open IS TRUE"; by "open = 1" it does.
        db.extend_datasets { def supports_is_true? = false }
        @setup_lock = Mutex.new
      end

      # Brings the tables up to date.
      def migrate = Sequel::Migrator.run(db, MIGRATIONS)

      # One transaction, tried again after a deadlock, a lock that took too long or a failed certification in a cluster.
      def transaction
        return yield if db.in_transaction?

        db.transaction(isolation: :committed, retry_on: RETRY, num_retries: 5) do
          Thread.current[SETUP_SEEN] = nil
          yield
        end
      ensure
        Thread.current[SETUP_SEEN] = nil unless db.in_transaction?
      end

      def journal = @journal ||= Journal.new(self)
      def people = @people ||= People.new(self)
      def records = @records ||= Records.new(self)
      def lists = @lists ||= Lists.new(self)
      def links = @links ||= Links.new(self)
      def interactions = @interactions ||= Interactions.new(self)
      def rules = @rules ||= Rules.new(self)
      def runs = @runs ||= Runs.new(self)
      def tasks = @tasks ||= Tasks.new(self)
      def worklist = @worklist ||= Worklist.new(self)
      def snapshots = @snapshots ||= Snapshots.new(self)
      def setup_store = @setup_store ||= Setup.new(self)
      def waiting = @waiting ||= Waiting.new(self)
      def figures = @figures ||= Figures.new(self)
      def history = @history ||= History.new(self)

      # @return [Core::Schema] as of the newest epoch
      def schema = setup[0]

      # @return [Core::Calendar]
      def calendar = setup[1]

      # @return [Integer] the newest epoch
      def epoch = db[:epochs].max(:id) || 0

      # Begins a new epoch: what rules or schema say from now on.
      # @return [Integer]
      def begin_epoch(what, who:, now:) = db[:epochs].insert(what: what, who: who, at: now)

      # @return [Array(Core::Schema, Core::Calendar)] read anew when an epoch with another set-up has begun; asked once in
      #   a transaction, so that all of it sees the same
      def setup
        seen = Thread.current[SETUP_SEEN]
        return seen if seen && db.in_transaction?

        Thread.current[SETUP_SEEN] = fresh_setup
      end

      private

      def fresh_setup
        stamp = db[:epochs].where(what: "setup").max(:id)
        kept = @setup
        return kept[1] if kept && kept[0] == stamp

        @setup_lock.synchronize { (@setup = [stamp, [setup_store.schema, setup_store.calendar]])[1] }
      end
    end
  end
end
