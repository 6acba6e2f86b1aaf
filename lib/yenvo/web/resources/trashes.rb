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
        no_moment
      end

      def no_moment = raise(Store::Refused.at("at" => "It takes a moment such as 2026-12-31T09:00:00Z."))

      def shown(row)
        {id: row[:record_id], **row.slice(:kind, :title, :by), **span(row[:at]), may_bring_back: may?(row)}
      end

      def span(at) = {at: Core::Reading.moment(at), until: Core::Reading.moment(at + (Store::Trash::DAYS * 86_400))}

      def may?(row)
        may.take_away!(row)
        true
      rescue Forbidden
        false
      end
    end
  end
end
