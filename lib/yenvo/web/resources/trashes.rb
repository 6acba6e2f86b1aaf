# frozen_string_literal: true

module Yenvo
  module Web
    # What was taken away and can be brought back.
    class Trashes < Base
      get "/?" do
        rows = root.trash.page(sight, after:)
        answer 200, {rows: rows.map { |row| shown(row) }, more: rows.size == Store::Trash::PAGE}
      end

      # What goes for good when it is erased.
      get "/:id" do
        may.erase!
        answer 200, {title: root.trash.find!(id)[:title], **root.erasing.counts(id)}
      end

      # Erases it for good, as soon as a worker comes to it.
      delete "/:id" do
        may.erase!
        root.erasing.begin(id, cause:)
        answer 202, {erasing: true}
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
        {id: row[:record_id], **row.slice(:kind, :title, :by), **span(row), may_bring_back: may?(row)}
      end

      def span(row) = {at: Core::Reading.moment(row[:at]), until: Core::Reading.moment(Store::Trash.ends(row))}

      def may?(row)
        may.take_away!(row)
        true
      rescue Forbidden
        false
      end
    end
  end
end
