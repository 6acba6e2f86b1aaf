# frozen_string_literal: true

module Yenvo
  module Store
    # What every class of this room stands on.
    class Part
      # @param root [Root]
      def initialize(root)
        @root = root
      end

      private

      attr_reader :root

      def db = root.db
      def dump(value) = value.nil? ? nil : JSON.generate(value)
      def load(text) = text.nil? ? nil : JSON.parse(text)

      # Inserts rows at one go.
      # @return [Array<Integer>] their ids, in order (MariaDB 10.5's INSERT … RETURNING)
      def insert_all(table, rows)
        return [] if rows.empty?

        db.fetch(Inserts.new(db).sql(table, rows)).map(:id)
      end
    end
  end
end
