# frozen_string_literal: true

module Yenvo
  module Web
    class Present
      # Texts and papers of the set-up with their versions.
      module VersionsPart
        # @param store [Store::Texts, Store::Papers]
        def in_versions(store)
          leaning = Store::RuleUses.new(root).by_key(store.noun)
          store.all.map do |row|
            {
              **plain(row.slice(:key, :name, :kind, :number, :form, :page, :retired_at)),
              leans: leaning.fetch(row[:key], [])
            }
          end
        end

        # @param row [Hash] of a version
        def kept_version(row, store) =
          {**plain(row.slice(:key, :number, :by, :at)), versions: versions(store, row[:key])}

        private

        def versions(store, key) = store.versions_of(key).map { |one| plain(one) }
      end
    end
  end
end
