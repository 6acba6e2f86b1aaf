# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Changes of many records together.
      module BulkPart
        STATES = %w[waiting changed same refused back stayed].freeze
        MOST_REASONS = 50

        # @param row [Hash]
        def bulk(row) = bulks([row])[0].merge(reasons: bulk_reasons(row))

        # @param rows [Array<Hash>]
        # @return [Array<Hash>] without reasons
        def bulks(rows)
          counts = root.bulk_changes.counts(column(rows, :id))
          rows.map do |row|
            told = {words: bulk_words(row), reasons: [], **bulk_counts(counts.fetch(row[:id], {}))}
            row.slice(:id, :kind, :state, :failed).merge(told, bulk_moments(row))
          end
        end

        private

        def bulk_moments(row) = {at: stamp(row[:at]), until: stamp(Store::BulkChanges.ends(row))}

        def bulk_counts(counts) =
          {total: counts.values.sum, **STATES.to_h { |state| [state.to_sym, counts.fetch(state, 0)] }}

        # What it was for may be gone.
        def bulk_words(row)
          Store::BulkDoing.again(root, sight, row).words
        rescue Core::Error
          "A change that does not fit the set-up any more"
        end

        def bulk_reasons(row)
          rows = root.bulk_changes.rows(row[:id]).exclude(reason: nil).order(:record_id).limit(MOST_REASONS).all
          titles = sight.titles(rows.map { |one| one[:record_id] })
          rows.map do |one|
            id, reason = one.values_at(:record_id, :reason)
            {record: id, title: titles.dig(id, :title), reason: veil(reason)}
          end
        end
      end
    end
  end
end
