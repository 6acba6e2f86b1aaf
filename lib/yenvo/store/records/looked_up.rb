# frozen_string_literal: true

module Yenvo
  module Store
    # Finds records by what stands in one of their fields, many at one go. Texts are the same without case; of several
    # the oldest counts.
    class LookedUp < Base
      # @param sight [Sight] of who asks
      def initialize(root, sight)
        super(root)
        @sight = sight
      end

      # @param kind [Core::Schema::Kind]
      # @param field [Core::Schema::Field, nil] nil for the number of the record
      # @param values [Array] plain, or as typed
      # @return [Hash{Object => Integer}] ids by +known+ of each value
      def ids(kind, field, values)
        return numbered(kind, values) unless field

        plain = values.filter_map { |value| read(field, value) }.uniq
        found = plain.each_slice(1_000).flat_map { |some| rows(kind, field, some) }
        seen = @sight.records(found.map(&:first))
        found.select { |pair| seen.include?(pair[0]) }.sort_by { |id, _| -id }.to_h { |id, key| [key, id] }
      end

      # @param value [Object] as typed
      # @return [Object] what it is known by in +ids+
      def known(field, value) = field ? LookedUp.known(read(field, value)) : value.to_s.strip

      # @return [Object] what a plain value is known by among others: texts without case
      def self.known(value) = value.is_a?(Numeric) ? whole(value) : value.to_s.downcase

      # @return [Object] what stands once: texts by their beginning alone, as UniqueValues keeps them
      def self.place(field, value)
        num, word = RecordIndex.rows(field, value)[0].values_at(2, 3)
        (word == "") ? whole(num) : word
      end

      # @return [Object] the same of a row of the index
      def short(num, word) = (word == "") ? LookedUp.whole(num) : word.downcase

      # @return [Numeric] 5 for 5.0, so that both are known by the same
      def self.whole(number) = (number == number.to_i) ? number.to_i : number.to_f

      private

      def indexed(field, value) = RecordIndex.rows(field, value)[0].values_at(2, 3)

      def read(field, value)
        Core::Reading.value(field, value, schema)
      rescue Core::Unreadable
        nil
      end

      def rows(kind, field, values)
        places = values.map { |value| indexed(field, value) }
        found = db[:record_index].where(kind: kind.key, field: field.key, empty: false)
        found = found.where(num: places.map(&:first).uniq, word: places.map(&:last).uniq)
        whole(field, found.select_map(%i[record_id num word]))
      end

      # The index holds the beginning of a text; of a longer one the record itself is asked.
      def whole(field, found)
        long = found.select { |_, _, word| word.size == RecordIndex::WORD }.map(&:first)
        images = root.records.images(long)
        found.map { |id, num, word| [id, images[id] ? LookedUp.known(images[id][field.key]) : short(num, word)] }
      end

      def numbered(kind, values)
        ids = values.filter_map { |value| value.to_s.strip[/\A\d{1,18}\z/]&.to_i }.uniq
        there = db[:records].where(id: ids, kind: kind.key).select_map(:id)
        @sight.records(there).to_h { |id| [id.to_s, id] }
      end
    end
  end
end
