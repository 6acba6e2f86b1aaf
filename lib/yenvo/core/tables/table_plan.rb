# frozen_string_literal: true

module Yenvo
  module Core
    # How one table is brought in. form: TableForm; map: DoorMap whose paths are columns ("c0" is the first); empties:
    # whether an empty cell empties the field of a record that is there already.
    TablePlan =
      Value.define(:form, :map, :empties) do
        # @param plain [Hash] form, map and empties
        # @return [Array(TablePlan, Array<Problem>)]
        def self.read(plain, kind, schema)
          map, problems = DoorMapReader.read(plain["map"] || {}, kind, schema)
          form = TableForm.read(plain["form"] || {})
          [new(form:, map:, empties: plain["empties"] == true), problems]
        end

        # @param cells [Array<String, nil>]
        # @return [Array(Hash, Hash)] fields to plain values or DoorLink, and what is wrong by field
        def row(cells, schema)
          unreadable?(cells) ? [{}, {"" => not_so_written}] : map.read(message(cells), schema)
        end

        # @return [Array<String>] fields whose cells are empty, and that are to be emptied
        def emptied(cells)
          empties ? map.rows.select { |row| empty?(row, cells) }.map { |row| row.field.key } : []
        end

        # @return [Integer, nil] the column from which a field comes
        def column_of(field) = map.rows.find { |row| row.field.key == field && row.path }&.then { |row| column(row) }

        private

        def not_so_written = "It has characters that are not #{form.encoding}."
        def empty?(row, cells) = row.path && row.otherwise.nil? && blank?(cells[column(row)])
        def column(row) = row.path.delete_prefix("c").to_i
        def blank?(cell) = cell.nil? || cell.strip.empty?
        def unreadable?(cells) = cells.any? { |cell| cell&.include?("\uFFFD") }

        # What people left around a cell is not meant.
        def message(cells) = cells.each_with_index.to_h { |cell, at| ["c#{at}", cell&.strip] }
      end
  end
end
