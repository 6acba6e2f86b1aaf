# frozen_string_literal: true

module Yenvo
  module Store
    # Finds notes, calls and mails by what they say, on records that are seen.
    class NotesByWords < ByIndex
      private

      def sort = SearchWords::NOTE

      def fitting(ids, asked)
        rows = db[:interactions].where(id: ids).reverse(:id).all.select { |row| said?(row, asked) }
        titles = @sight.titles(column(rows, :record_id))
        rows.select { |row| titles[row[:record_id]] }.map { |row| found(row, titles[row[:record_id]], asked) }
      end

      def said?(row, asked) = Core::Words.all_in?(asked, *SearchWords.texts_of(row))

      def found(row, about, asked)
        Found.new(sort: "notes", id: row[:id], title: about[:title], kind: about[:kind], stage: nil,
          record: about[:id], why: "#{way(row)} of #{day(row)}: #{telling(row, asked)}")
      end

      def way(row) = Core::EventSide::WAYS.fetch(row[:way], row[:way])
      def day(row) = Core::Show.date(calendar.date_of(row[:at]))

      def telling(row, asked)
        Core::Words.around(asked, telling_one(SearchWords.texts_of(row), asked))
      end

      def telling_one(texts, asked) = texts.find { |one| Core::Words.any_in?(asked, one) }
    end
  end
end
