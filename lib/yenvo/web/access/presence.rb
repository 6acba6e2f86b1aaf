# frozen_string_literal: true

module Yenvo
  module Web
    # Notes which sessions were used, once a minute for all of them, so that looking at a page writes nothing. A thread
    # of its own does that while there is something to note.
    class Presence
      # @param root [Store::Root]
      # @param every [Numeric] seconds
      def initialize(root, every: 60)
        @root = root
        @every = every
        @lock = Mutex.new
        @used = {}
      end

      # @param session [Hash] account_id and session_id
      def note(session)
        @lock.synchronize do
          @used[session] = true
          @thread = Thread.new { write_on } unless @thread&.alive?
        end
      end

      # Writes what was noted until now.
      def write
        used = @lock.synchronize { @used.keys.tap { @used = {} } }
        used.each_slice(500) do |some|
          @root.db[:account_active_session_keys].where(
            %i[account_id session_id] => some.map { |one| one.values_at(:account_id, :session_id) }
          ).update(last_use: Sequel::CURRENT_TIMESTAMP)
        end
      rescue Sequel::Error => error
        SemanticLogger["Web"].warn("Who is here could not be noted", error: error.class.name)
      end

      private

      def write_on
        loop do
          sleep @every
          write
          break if @lock.synchronize { @used.empty? && (@thread = nil).nil? }
        end
      end
    end
  end
end
