# frozen_string_literal: true

module Yenvo
  module Store
    # Writes one INSERT … RETURNING id for many rows. The statement grows by a string per value instead of by a tree of
    # expressions, which is what inserting runs and tasks in bulk would spend most of its time on. Texts are escaped by
    # the driver; what is neither text, number, time nor truth is left to Sequel.
    class Inserts
      MOMENT = "'%Y-%m-%d %H:%M:%S.%6N'"
      NONE = Object.new.freeze
      private_constant :NONE

      # @param db [Sequel::Database]
      def initialize(db)
        @db = db
      end

      # @param rows [Array<Hash>] all with the same keys, at least one
      # @param over [Array<Symbol>, nil] columns to write over in rows that are there already, instead of giving the new
      #   ids
      # @param ids [Boolean] whether the new ids are given; not of a table that has none
      # @return [String]
      def sql(table, rows, over: nil, ids: true)
        unless rows.all? { |row| row.size == rows[0].size }
          raise ArgumentError, "rows for #{table} differ in their columns"
        end

        of_columns(table, rows[0].keys.to_h { |key| [key, rows.map { |row| row[key] }] }, over:, ids:)
      end

      # @param columns [Hash{Symbol => Array}] what stands in each, row by row; all of the same size
      # @return [String]
      def of_columns(table, columns, over: nil, ids: true)
        columns = @db.synchronize { |driver| columns(columns, driver) }
        names = columns.each_key.map { |name| @db.literal(Sequel.identifier(name)) }
        out = "INSERT INTO #{@db.literal(Sequel.identifier(table))} (#{names.join(",")}) VALUES ("
        out << columns.values.transpose.map { |cells| cells.join(",") }.join("),(") << ")"
        if over
          out << " ON DUPLICATE KEY UPDATE " << over.map { |name| "`#{name}`=VALUES(`#{name}`)" }.join(",")
        else
          ids ? out << " RETURNING `id`" : out
        end
      end

      private

      # A column that no row fills is left to its default.
      # @return [Hash{Symbol => Array<String>}] how it is said
      def columns(columns, driver) =
        columns.reject { |_, values| values.all?(nil) }.transform_values { |values| cells(values, driver) }

      # What is the very same object as in the row above, or the same moment, reads the same, so it is not written out
      # anew: most rows of one turn share rule, moment and person.
      def cells(values, driver)
        above, said = NONE
        values.map do |value|
          next said if above.equal?(value)

          said = cell(value, driver, above, said)
          above = value
          said
        end
      end

      # @param above [Object] what stands in the row above, and how it is said there
      def cell(value, driver, above, said)
        case value
        when String then "'#{driver.escape(value)}'"
        when Integer then value.to_s
        when nil then "NULL"
        when true then "1"
        when false then "0"
        when Time then (above == value) ? said : value.getutc.strftime(MOMENT)
        when Date then "'#{value.iso8601}'"
        else @db.literal(value)
        end
      end
    end
  end
end
