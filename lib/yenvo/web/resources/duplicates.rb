# frozen_string_literal: true

module Yenvo
  module Web
    # Records of a kind that may be the same.
    class Duplicates < Base
      get "/?" do
        kind = sight.access.schema.kind(params["kind"]) || raise(Store::NotFound, "There is no such kind.")
        groups, onward = Store::Duplicates.new(root, kind, sight).page(after:)
        answer 200, {groups: shown(groups, kind), next: onward && onward.join(":")}
      end

      # Says that some are not the same.
      post "/?" do
        rows = body_of_call["records"].map { |id| sight.record!(id) }
        rows.each { |row| may.change!(row) }
        kind = root.schema.kind!(rows[0][:kind])
        Store::Duplicates.new(root, kind, sight).put_away(rows.map { |row| row[:id] }, cause:)
        answer 200, {put_away: true}
      end

      private

      # @return [Array(Integer, String), nil] number of the way, and what is alike in the last group of it
      def after
        return unless params["after"]

        way, from = params["after"].split(":", 2)
        [way.to_i, from.to_s.empty? ? nil : from]
      end

      def shown(groups, kind)
        images = root.records.images(groups.flat_map(&:ids)).transform_values { |image| image.except("kind") }
        records = present.records(images.values, kind.key).to_h { |record| [record[:id], record] }
        groups.map { |group| {why: group.why, records: records.values_at(*group.ids).compact} }
      end
    end
  end
end
