# frozen_string_literal: true

module Yenvo
  module Store
    # Finds tasks by their titles and texts, the newest first, open or not.
    class TasksByWords < Base
      AT_ONCE = 200
      MOST = 1_000

      # @param sight [Sight] of who asks
      def initialize(root, sight)
        super(root)
        @sight = sight
      end

      # @param asked [Array<String>] words
      # @param after [Integer, nil] number to go on from
      # @return [Array(Array<Search::Found>, Integer)]
      def page(asked, limit:, after: nil)
        found, looked = [], 0
        loop do
          rows = root.task_rows.with_words(asked, after:, limit: AT_ONCE)
          found.concat(shown(rows, asked))
          return [found, nil] if rows.size < AT_ONCE && found.size <= limit

          after = rows.last[:id]
          if found.size >= limit || (looked += rows.size) >= MOST
            return (found.size > limit) ? [found.first(limit), found[limit - 1].id] : [found, after]
          end
        end
      end

      private

      def shown(rows, asked)
        seen = @sight.tasks(rows).select { |row| Core::Words.all_in?(asked, row[:title], row[:text]) }
        seen.map { |row| found(row, asked) }
      end

      def found(row, asked)
        titled = Core::Words.all_in?(asked, row[:title])
        why = titled ? "Title" : "Text: #{Core::Words.around(asked, row[:text].to_s)}"
        Search::Found.new(sort: "tasks", **row.slice(:id, :title, :kind), stage: row[:state], record: row[:record_id],
          why:)
      end
    end
  end
end
