# frozen_string_literal: true

module Yenvo
  module Web
    # What was taken away and can be brought back.
    class Trashes < Base
      get "/?" do
        rows = root.trash.page(sight, after:)
        answer 200, {rows: rows.map { |row| shown(row) }, more: rows.size == Store::Trash::PAGE}
      end

      private

      def after
        return unless params["at"] && params["id"]

        [Time.iso8601(params["at"]), number("id")]
      rescue ArgumentError
        raise Store::Refused.at("at" => "It takes a moment such as 2026-12-31T09:00:00Z.")
      end

      def shown(row)
        id, at = row.values_at(:record_id, :at)
        ends = Core::Reading.moment(at + (Store::Trash::DAYS * 86_400))
        {id:, **row.slice(:kind, :title, :by), at: Core::Reading.moment(at), until: ends, may_bring_back: may?(row)}
      end

      def may?(row)
        may.take_away!(row)
        true
      rescue Forbidden
        false
      end
    end
  end
end
