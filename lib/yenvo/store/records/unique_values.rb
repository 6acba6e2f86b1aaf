# frozen_string_literal: true

module Yenvo
  module Store
    # Keeps what stands once among the records of a kind. The database itself refuses the second, also when two are
    # saved at once. Texts are the same without case, by their first 64 characters, as in the index.
    class UniqueValues < Base
      keeps :unique_values

      # Types of fields whose values can stand once.
      TYPES = %w[text url email phone number date].freeze

      def record_changed(type, before, after, _entry, _cause)
        type.own_fields.each do |field|
          next if !field.unique || before[field.key] == after[field.key]

          let_go(type, field, after["id"]) unless before.empty?
          hold(type, field, after)
        end
      end

      # Many that were made at one go.
      # @raise [Sequel::UniqueConstraintViolation] when one of them stands there already
      def records_made(type, images, _entries, _cause)
        type.own_fields.select(&:unique).each do |field|
          rows = images.filter_map { |image| image[field.key] && held(type, field, image) }
          table.multi_insert(rows)
        end
      end

      def record_gone(_type, image, _entry, _cause) = table.where(record_id: image["id"]).delete

      # Begins to keep a field, in the caller's transaction.
      # @param kind [String]
      # @param field [String] keys
      # @return [Integer] how many values stand more than once; then nothing is kept
      def begin(kind, field)
        values = db[:record_index].where(kind:, field:, empty: false)
        found = values.group(:num, Sequel.function(:binary, :word)).having { count.function.* > 1 }
        twice = found.select(:num).from_self.count
        return twice if twice.positive?

        table.insert(%i[kind field num word record_id], values.select(:kind, :field, :num, :word, :record_id))
        0
      end

      # Keeps a field no more.
      def end(kind, field) = table.where(kind:, field:).delete

      private

      def held(type, field, image)
        key, _, num, word = RecordIndex.rows(field, image[field.key])[0]
        row(type, image["id"], key, num, word)
      end

      def row(type, record_id, field, num, word) = {kind: type.key, field:, num:, word:, record_id:}

      def let_go(type, field, record_id) = table.where(kind: type.key, field: field.key, record_id:).delete

      def hold(type, field, image)
        value = image[field.key]
        return if value.nil?

        table.insert(held(type, field, image))
      rescue Sequel::UniqueConstraintViolation
        shown = Core::Show.value(field, value, schema, {})
        said = "#{field.label} #{shown} stands on another #{type.noun} already, and each stands once."
        raise Refused.new("Nothing was saved: #{said}", fields: {field.key => said}, taken: true)
      end
    end
  end
end
