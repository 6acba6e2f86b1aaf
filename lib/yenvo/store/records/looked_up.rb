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
      # @param values [Array] plain, or as typed for a number of a record
      # @return [Hash{Object => Integer}] ids by +known+ of each value
      def ids(kind, field, values)
        return numbered(kind, values) unless field

        words = values.filter_map { |value| word(field, value) }.uniq
        found = words.each_slice(1_000).flat_map { |some| rows(kind, field, some) }
        seen = @sight.records(found.map(&:first))
        found.select { |pair| seen.include?(pair[0]) }.sort_by { |id, _| -id }.to_h { |id, key| [key, id] }
      end

      # @return [Object] what a value is known by among others
      def known(field, value) = field ? LookedUp.known(field, value) : value.to_s.strip

      # @return [Object]
      def self.known(field, value)
        _, _, num, word = RecordIndex.rows(field, value)[0]
        (word == "") ? num : word
      end

      private

      def word(field, value)
        plain = Core::Reading.value(field, value, schema)
        plain && indexed(field, plain)
      rescue Core::Unreadable
        nil
      end

      def indexed(field, plain) = RecordIndex.rows(field, plain)[0].values_at(2, 3)

      def rows(kind, field, words)
        found = db[:record_index].where(kind: kind.key, field: field.key, empty: false)
        found = found.where(num: words.map(&:first).uniq, word: words.map(&:last).uniq)
        found.select_map(%i[record_id num word]).map { |id, num, word| [id, (word == "") ? number(num) : word] }
      end

      def number(num) = (num == num.to_i) ? num.to_i : num.to_f

      def numbered(kind, values)
        ids = values.filter_map { |value| value.to_s.strip[/\A\d{1,18}\z/]&.to_i }.uniq
        there = db[:records].where(id: ids, kind: kind.key).select_map(:id)
        @sight.records(there).to_h { |id| [id.to_s, id] }
      end
    end
  end
end
