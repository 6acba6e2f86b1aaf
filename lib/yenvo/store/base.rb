# frozen_string_literal: true

module Yenvo
  module Store
    # What every class of this room stands on.
    class Base
      include Refusing

      class << self
        private

        # Says which table it keeps; its rows are asked of +table+.
        # @param name [Symbol]
        def keeps(name)
          define_method(:table) { db[name] }
          private :table
        end
      end

      # @param root [Root]
      def initialize(root)
        @root = root
      end

      private

      attr_reader :root

      def db = root.db
      def schema = root.schema
      def calendar = root.calendar

      # @param found [Sequel::Dataset] newest first
      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>]
      def older(found, before) = (before ? found.where(Sequel[:id] < before) : found).all

      # @return [Array] what rows have in one column
      def column(rows, name) = rows.map { |row| row[name] }
      def dump(value) = value.nil? ? nil : JSON.generate(value)
      def load(text) = text.nil? ? nil : JSON.parse(text)

      # Inserts rows at one go.
      # @return [Array<Integer>] their ids, in order (MariaDB 10.5's INSERT … RETURNING)
      def insert_all(table, rows) = rows.empty? ? [] : db.fetch(Inserts.new(db).sql(table, rows)).map(:id)

      # The same, written down column by column, of which rows need not be made first.
      # @param columns [Hash{Symbol => Array}] what stands in each, row by row
      # @param ids [Boolean] whether they are given
      def insert_columns(table, columns, ids: true)
        sql = Inserts.new(db).of_columns(table, columns, ids:)
        ids ? db.fetch(sql).map(:id) : db.run(sql)
      end

      # Deletes rows by key, one look-up each, and looks at no others. Of a short table the optimizer would rather read
      # all of it, and so wait for rows that others hold.
      # @param ids [Array<Integer>]
      # @return [Integer] how many
      def delete_keys(table, key, ids)
        return 0 if ids.empty?

        keys = ids.map { |id| "SELECT #{Integer(id)} AS `id`" }
        db[table].with_sql_delete(
          "DELETE `held` FROM (#{keys.join(" UNION ALL ")}) AS `wanted` STRAIGHT_JOIN `#{table}` AS `held` FORCE " \
          "INDEX (PRIMARY) ON `held`.`#{key}` = `wanted`.`id`"
        )
      end
    end
  end
end
