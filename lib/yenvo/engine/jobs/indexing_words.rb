# frozen_string_literal: true

module Yenvo
  module Engine
    # Indexes the words of records and notes that were there before they were looked for: records first, then notes,
    # each in the order of their numbers. What is saved meanwhile is indexed as it is saved.
    class IndexingWords
      BIT = 500

      # @param root [Store::Root]
      def initialize(root)
        @root = root
      end

      # @param job [Hash] row
      # @return [Integer] things looked at
      def bit(job, now)
        place = job[:place] ? JSON.parse(job[:place]) : {"of" => "records", "after" => 0}
        rows = (place["of"] == "records") ? records(place["after"]) : notes(place["after"])
        @root.search_words.insert(rows.flat_map { |row| words(row) })
        @root.jobs.progress(job, looked_at: rows.size, started: rows.size, place: further(place, rows), now:)
        rows.size
      end

      private

      def db = @root.db

      def further(place, rows)
        return {**place, "after" => rows.last[:id]} if rows.size == BIT

        {"of" => "notes", "after" => 0} if place["of"] == "records"
      end

      # Held, so that none is changed between being read and being indexed.
      def records(after) =
        after_number(db[:records].select(*Store::Image::COLUMNS), after)

      def notes(after) = after_number(db[:interactions], after)

      def after_number(rows, after) =
        rows.where { Sequel[:id] > after }.order(:id).limit(BIT).lock_style(Store::Records::HELD).all

      def words(row)
        sort, words = row.key?(:fields) ? of_record(row) : of_note(row)
        words.map { |word| {sort:, word:, ref: row[:id]} }
      end

      def of_record(row)
        type = @root.schema.kind(row[:kind])
        ["r", type ? Store::SearchWords.of_record(type, Store::Image.of(row)) : []]
      end

      def of_note(row) = ["n", Core::Words.of(*Store::SearchWords.texts_of(row))]
    end
  end
end
