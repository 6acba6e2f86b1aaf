# frozen_string_literal: true

module Yenvo
  module Web
    # The audit, for administrators.
    class Audits < Base
      get "/?" do
        may.set_up!
        rows = root.audit.page(
          what: params["what"], who: params["who"], from: midnight("from"), till: midnight("till", 1),
          before: number("before")
        )
        kinds = Store::Audit::WHAT.map { |key, words| {key:, words:} }
        answer 200, {kinds:, rows: rows.map { |row| shown(row) }, more: rows.size == Store::Audit::PAGE}
      end

      private

      def shown(row)
        unknown = (row[:what] == "sign_in") ? "Somebody" : "Yenvo"
        name = row[:who] ? root.schema.name_of(row[:who]) : unknown
        {**row.except(:about), at: Core::Reading.moment(row[:at]), name:}
      end
    end
  end
end
