# frozen_string_literal: true

module Yenvo
  module Store
    # Writes one INSERT … RETURNING id for many rows. The statement grows by a string per value instead of by a tree of
    # expressions, which is what inserting runs and tasks in bulk would spend most of its time on. Texts are escaped by
    # the driver; what is neither text, number, time nor truth is left to Sequel.
    class Inserts
      MOMENT = "'%Y-%m-%d %H:%M:%S.%6N'"
      CLOSE = ")".ord
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

        # A column that no row fills is left to its default, NULL.
        keys = rows[0].keys.reject { |key| rows.all? { |row| row[key].nil? } }
        names = keys.map { |name| @db.literal(Sequel.identifier(name)) }
        out = "INSERT INTO #{@db.literal(Sequel.identifier(table))} (#{names.join(",")}) VALUES "
        @db.synchronize do |driver|
          last = Array.new(keys.size) { [NONE] }
          rows.each { |row| append(out, row, keys, last, driver) }
        end
        if over
          out.chop << " ON DUPLICATE KEY UPDATE " << over.map { |name| "`#{name}`=VALUES(`#{name}`)" }.join(",")
        else
          ids ? out.chop << " RETURNING `id`" : out.chop
        end
      end

      private

      # What is the very same object as in the row above, or the same moment, reads the same, so it is not written out
      # anew: most rows of one turn share rule, moment and person.
      def append(out, row, keys, last, driver)
        out << "("
        keys.each_with_index do |key, at|
          value, above = row[key], last[at]
          if above[0].equal?(value) || (value.is_a?(Time) && above[0] == value)
            out << (above[1] ||= write(+"", value, driver))
          else
            above[0], above[1] = value
            write(out, value, driver)
          end
        end
        out.setbyte(out.bytesize - 1, CLOSE)
        out << ","
      end

      # @return [String] the statement so far with the value, and a comma behind it
      def write(out, value, driver)
        case value
        when String then out << "'" << driver.escape(value) << "'"
        when Integer then out << value.to_s
        when nil then out << "NULL"
        when true then out << "1"
        when false then out << "0"
        when Time then out << value.getutc.strftime(MOMENT)
        when Date then out << "'" << value.iso8601 << "'"
        else out << @db.literal(value)
        end
        out << ","
      end
    end
  end
end
