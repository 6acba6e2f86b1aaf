# frozen_string_literal: true

module Yenvo
  module Web
    # One search over all that is kept.
    class Searches < Base
      get "/?" do
        only, text = params.values_at("only", "text")
        search = Store::Search.new(root, sight)
        found = only ? {only => search.of(only, text, after: number("after"))} : search.overview(text)
        answer 200, {indexing: root.jobs.under_way?("index_words"), sorts: sorts(found)}
      end

      private

      def sorts(found) = found.map { |sort, (rows, onward)| sort(sort, rows, onward) }
      def sort(sort, rows, onward) = {sort:, found: rows.map { |one| shown(one) }, next: onward&.to_s}

      def shown(one)
        kind = sight.access.schema.kind(one.kind)
        {
          id: one.id.to_s, record: one.record, title: one.title, why: one.why, kind: kind&.label,
          state: state(one, kind)
        }
      end

      # A stage in its words; the state of a task, rule or kit is a word.
      def state(one, kind)
        return one.stage&.tr("_", " ") unless one.sort == "records"

        one.stage && kind&.field("stage")&.choice_label(one.stage)
      end
    end
  end
end
