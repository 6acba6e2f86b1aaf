# frozen_string_literal: true

module Yenvo
  module Store
    # Keeps the words by which records and notes are found in step with them. Only what differs is written.
    class SearchWords < Base
      keeps :words

      RECORD = "r"
      NOTE = "n"
      # Fields whose texts are looked for.
      TEXTS = %w[text long_text email url].freeze

      # @param type [Core::Schema::Kind]
      # @return [Array<Core::Schema::Field>] in order, the title first
      def self.fields(type) = type.fields.values.select { |field| TEXTS.include?(field.type) }

      # @param image [Hash]
      # @return [Array<String>]
      def self.of_record(type, image) = Core::Words.of(*texts(type, image).compact.map(&:to_s))
      def self.texts(type, image) = image.values_at(*keys(type))
      def self.keys(type) = fields(type).map(&:key)

      # @param row [Hash] of a note, call or mail
      # @return [Array<String>] texts by which it is found
      def self.texts_of(row)
        letter = row[:letter] && JSON.parse(row[:letter])
        [row[:text], *letter.to_h.values_at("sender", "name", "subject")].compact
      end

      # @param before [Hash] image; empty for a new record
      def record_changed(type, before, after, _entry, _cause)
        # Of one that is new, and of one whose texts are as they were, there is nothing to compare.
        return if before.any? && self.class.fields(type).all? { |field| before[field.key] == after[field.key] }

        was = before.empty? ? [] : self.class.of_record(type, before)
        differ(RECORD, after["id"], was, self.class.of_record(type, after))
      end

      # Many that were made at one go.
      def records_made(type, images, _entries, _cause)
        insert(images.flat_map { |image| rows(RECORD, image["id"], self.class.of_record(type, image)) })
      end

      def record_gone(type, image, _entry, _cause) =
        drop(RECORD, image["id"], self.class.of_record(type, image))

      # A note was written, changed or is gone.
      # @param before, after [Hash, nil] rows
      def note_changed(before, after)
        was, is = [before, after].map { |row| row ? Core::Words.of(*self.class.texts_of(row)) : [] }
        differ(NOTE, (after || before)[:id], was, is)
      end

      # Words of what is there already.
      # @param rows [Array<Hash>] sort, word and ref
      def insert(rows) = rows.each_slice(5_000) { |some| table.insert_ignore.multi_insert(some) }

      private

      def differ(sort, ref, was, is)
        drop(sort, ref, was - is)
        insert(rows(sort, ref, is - was))
      end

      def rows(sort, ref, words) = words.map { |word| {sort:, word:, ref:} }

      def drop(sort, ref, words) = words.each_slice(500) { |some| table.where(sort:, word: some, ref:).delete }
    end
  end
end
