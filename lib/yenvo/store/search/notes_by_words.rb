# frozen_string_literal: true

module Yenvo
  module Store
    # Finds notes, calls and mails by what they say, on records that are seen.
    class NotesByWords < ByWords
      private

      def sort = SearchWords::NOTE
      def place(found) = found.id

      def fitting(ids, asked)
        rows = @sight.about(db[:interactions].where(id: ids).all).select { |row| said?(row, asked) }
        titles = @sight.titles(rows.map { |row| row[:record_id] })
        rows.sort_by { |row| -row[:id] }.filter_map { |row| (about = titles[row[:record_id]]) && found(row, about, asked) }
      end

      def said?(row, asked) = Core::Words.all_in?(asked, *SearchWords.texts_of(row))

      def found(row, about, asked)
        text = SearchWords.texts_of(row).find { |one| Core::Words.any_in?(asked, one) }
        way = Core::EventSide::WAYS.fetch(row[:way], row[:way])
        day = Core::Show.date(calendar.date_of(row[:at]))
        Search::Found.new(sort: "notes", id: row[:id], title: about[:title], kind: about[:kind], stage: nil,
          record: about[:id], why: "#{way} of #{day}: #{Core::Words.around(asked, text)}")
      end
    end
  end
end
