# frozen_string_literal: true

module Yenvo
  module Store
    # Keeps the table by which lists are sorted, filtered and searched in step with a record. Only what differs is
    # written.
    class RecordIndex < Base
      WORD = 64
      NOT_INDEXED = %w[changed].freeze
      WORDS = "~"
      COLUMNS = %i[kind record_id field empty num word].freeze

      # @param before [Hash] image; empty for a new record
      # @param after [Hash] image
      def record_changed(type, before, after, _entry, _cause)
        fresh = before.empty?
        changed = type.fields.values.reject { |field| NOT_INDEXED.include?(field.key) || field.worked_out? }
        changed.reject! { |field| before[field.key] == after[field.key] } unless fresh
        return if changed.empty?

        id = after["id"]
        keys = changed.flat_map { |field| self.class.keys(field) }
        rows = changed.flat_map { |field| self.class.rows(field, after[field.key]) }
        if keys.include?("title")
          keys << WORDS
          rows += self.class.words(after["title"]).map { |word| [WORDS, false, 0, word] }
        end
        db[:record_index].where(record_id: id, field: keys).delete unless fresh
        db[:record_index].import(COLUMNS, rows.map { |row| [type.key, id, *row] })
      end

      # Many that were made at one go.
      def records_made(type, images, _entries, _cause)
        fields = type.fields.values.reject { |field| NOT_INDEXED.include?(field.key) || field.worked_out? }
        all = images.flat_map { |image| of_new(type.key, fields, image) }
        all.each_slice(5_000) { |some| db.run(Inserts.new(db).sql(:record_index, some, ids: false)) }
      end

      # @return [Array<String>] under which a field stands in the index
      def self.keys(field) = (field.type == "phone") ? [field.key, phone(field)] : [field.key]

      # @return [String] under which the digits of a phone stand, the last first
      def self.phone(field) = "#{WORDS}#{field.key}"

      # @return [String] digits of a phone, the last first
      def self.digits(text) = text.to_s.gsub(/\D/, "").reverse[0, WORD]

      # @return [Array<String>] the words of a title, in small letters
      def self.words(title) = title.to_s.downcase.scan(/[[:alnum:]]+/).map { |word| word[0, WORD] }.uniq.first(20)

      # @return [String] a value as it stands in the index
      def self.word(value) = value.to_s.downcase[0, WORD]

      def of_new(kind, fields, image)
        rows = fields.flat_map { |field| self.class.rows(field, image[field.key]) }
        rows += self.class.words(image["title"]).map { |word| [WORDS, false, 0, word] }
        id = image["id"]
        rows.map { |field, empty, num, word| {kind:, record_id: id, field:, empty:, num:, word:} }
      end
      private :of_new

      # @return [Array<Array>] field, empty, num and word of each row
      def self.rows(field, value)
        return [[field.key, true, 0, ""]] if value.nil?

        case field.type
        when "number", "money", "link" then [[field.key, false, value, ""]]
        when "yes_no" then [[field.key, false, 0, value ? "yes" : "no"]]
        when "phone" then [[field.key, false, 0, word(value)], [phone(field), false, 0, digits(value)]]
        when "choices" then value.map { |key| [field.key, false, 0, key[0, WORD]] }
        else [[field.key, false, 0, word(value)]]
        end
      end
    end
  end
end
