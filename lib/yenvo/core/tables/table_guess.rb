# frozen_string_literal: true

module Yenvo
  module Core
    # Which column of a table goes into which field, by its name and by what stands in it.
    class TableGuess
      # How much of what stands in a column has to fit.
      ENOUGH = 0.8

      # @param kind [Schema::Kind]
      # @param heads [Array<String>] of the columns
      # @param rows [Array<Array<String, nil>>] some of them
      def initialize(kind, heads, rows)
        @kind = kind
        @heads = heads
        @rows = rows
        @fields = fields(kind)
      end

      # @return [Array<Hash>] field and path of each that is sure, as in the table of a door
      def rows
        left = @fields.dup
        by_name = @heads.each_index.to_h { |at| [at, take(left) { |field| named?(field, @heads[at]) }] }.compact
        rest = @heads.each_index.reject { |at| by_name.key?(at) }
        by_sample = rest.to_h { |at| [at, take(left) { |field| looks_like?(field, at) }] }.compact
        by_name.merge(by_sample).sort.map { |at, field| {"field" => field.key, "path" => "c#{at}", **more(field, at)} }
      end

      private

      # The title goes last, since so many columns may be it.
      def fields(kind) = kind.fields.values.select { |field| settable?(field) }.partition { |one| !title?(one) }.flatten
      def title?(field) = field.key == "title"
      def settable?(field) = field.built_in ? %w[title stage owner].include?(field.key) : !field.worked_out?
      def take(left, &) = left.find(&)&.tap { |field| left.delete(field) }
      def cells(at) = @rows.filter_map { |row| row[at] }.reject { |cell| cell.strip.empty? }
      def plain(text) = text.to_s.unicode_normalize(:nfd).downcase.gsub(/[^a-z0-9]+/, "")

      def named?(field, head)
        said = plain(head)
        !said.empty? && names(field).include?(said)
      end

      # People call the title of a record by many names; a field that is called so goes first.
      def names(field)
        own = [field.label, field.key]
        own += ["name", "subject", @kind.label] if title?(field)
        own.map { |name| plain(name) }
      end

      SAMPLES = {
        "email" => Reading::EMAIL, "url" => %r{\Ahttps?://\S+\z}i,
        "phone" => %r{\A\+?[\d\s()/.-]{6,}\z}
      }.freeze
      private_constant :SAMPLES

      def looks_like?(field, at)
        form = SAMPLES[field.type] or return false
        mostly?(cells(at), form)
      end

      def mostly?(cells, form) = cells.any? && cells.count { |cell| form.match?(cell.strip) } >= ENOUGH * cells.size

      # How dates are written in it, and by what its links are known.
      def more(field, at)
        return {"by" => "title"} if field.type == "link"
        return {} unless %w[date datetime].include?(field.type)

        {"form" => form_of(cells(at))}
      end

      # Of two that fit all, the first.
      def form_of(cells)
        fits = DoorRow::DAYS.keys.select { |form| cells.all? { |cell| day?(form, cell) } }
        fits.first || "iso"
      end

      def day?(form, cell)
        found = DoorRow::DAYS.fetch(form).match(cell.strip)
        !found.nil? && sound?(found)
      end

      def sound?(found) = Date.valid_date?(*%w[y m d].map { |name| found[name].to_i })
    end
  end
end
