# frozen_string_literal: true

module Yenvo
  module Store
    # Finds tasks by their titles and texts, open or not.
    class TasksByWords < ByWords
      private

      def looked_at(asked, after) = root.task_rows.ids_with_words(asked, after:, limit: at_once)

      def fitting(ids, asked)
        rows = @sight.tasks(root.task_rows.by_id(ids).values).select { |row| said?(row, asked) }
        rows.sort_by { |row| -row[:id] }.map { |row| found(row, asked) }
      end

      def said?(row, asked) = Core::Words.all_in?(asked, row[:title], row[:text])

      def found(row, asked)
        Found.new(sort: "tasks", **row.slice(:id, :title, :kind), stage: row[:state], record: row[:record_id],
          why: why(row, asked))
      end

      def why(row, asked)
        titled = Core::Words.all_in?(asked, row[:title])
        titled ? "Title" : "Text: #{Core::Words.around(asked, row[:text].to_s)}"
      end
    end
  end
end
