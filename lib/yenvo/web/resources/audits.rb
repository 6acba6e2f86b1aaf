# frozen_string_literal: true

module Yenvo
  module Web
    # The audit, for administrators.
    class Audits < Base
      get "/?" do
        may.set_up!
        rows = root.audit.page(**chosen, before: number("before"))
        kinds = Store::Audit::WHAT.map { |key, words| {key:, words:} }
        answer 200, {kinds:, rows: rows.map { |row| shown(row) }, more: rows.size == Store::Audit::PAGE}
      end

      # The same as a table, all of it.
      get "/table" do
        may.set_up!
        narrowed = chosen
        give_table("Audit", HEADS) do |before|
          rows = root.audit.page(**narrowed, before:, limit: TABLE_PAGE)
          [rows.map { |row| cells(row) }, (rows.size == TABLE_PAGE) ? rows.last[:id] : nil]
        end
      end
      HEADS = ["Number", "When", "Who", "What", "Done", "Changes", "From"].freeze
      TABLE_PAGE = 500
      private_constant :HEADS, :TABLE_PAGE

      private

      def chosen = {what: params["what"], who: params["who"], from: midnight("from"), till: midnight("till", 1)}

      def cells(row)
        changes = row[:changes].map { |one| "#{one["label"]}: #{one["before"] || "none"} → #{one["after"] || "none"}" }
        at = Core::Cell.moment(row[:at], root.schema)
        what = Store::Audit::WHAT[row[:what]]
        [row[:id], at, shown(row)[:name], what, row[:words], changes.join("; "), row[:address]]
      end

      def shown(row)
        unknown = (row[:what] == "sign_in") ? "Somebody" : "Yenvo"
        name = row[:who] ? root.schema.name_of(row[:who]) : unknown
        {**row.except(:about), at: Core::Reading.moment(row[:at]), name:}
      end
    end
  end
end
