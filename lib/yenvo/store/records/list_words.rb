# frozen_string_literal: true

module Yenvo
  module Store
    # What lists are narrowed by besides values and ranges: that a field holds some words, or the digits of a phone, and
    # that it is filled in or empty.
    class ListWords < Base
      LONG = RecordIndex::WORD
      # Fields that can hold words.
      HOLDING = %w[text long_text email phone url].freeze

      # @param query [Lists::Query]
      # @raise [Refused]
      def check(type, query)
        query.holds.to_h.each do |key, words|
          field = known!(type, key)
          refuse(key, "#{field.label} holds no words to filter by.") unless HOLDING.include?(field.type)
          refuse(key, "A phone is filtered by digits.") if field.type == "phone" && words !~ /\d/
        end
        query.filled.to_h.each_key { |key| known!(type, key) }
      end

      # @return [Array<Sequel::Dataset, Sequel::SQL::Expression>] rows of the index that fit, as the first, and what is
      #   asked of a record itself
      def tests(type, query)
        query.holds.to_h.map { |key, words| holds(type, type.field(key), words) } +
          query.filled.to_h.map { |key, yes| filled(type, key, yes) }
      end

      private

      def known!(type, key) =
        type.field(key) || refuse(key, "There is no field #{Core::Show.quoted(key)} to filter by.")

      def holds(type, field, words)
        case field.type
        when "phone" then indexed(type, RecordIndex.phone(field)).where(like(:word, RecordIndex.digits(words)))
        when "long_text" then like(value(field), words)
        else short(type, field, words)
        end
      end

      # The index holds the beginning of a value; what is longer is looked at as a whole.
      def short(type, field, words)
        return title(words) if field.key == "title"

        long = Sequel.function(:char_length, :word) >= LONG
        found = like(:word, words.downcase)
        indexed(type, field.key).where(Sequel.|(found, long & like(of_found(field), words)))
      end

      def title(words) = like(Sequel[:records][:title], words)

      def of_found(field)
        at = Sequel[:whole]
        db[:records].as(:whole).then { |table| db.from(table) }.where(at[:id] => Sequel[:found][:record_id])
          .select(Sequel.function(:json_value, at[:fields], path(field)))
      end

      def value(field) = Sequel.function(:json_value, Sequel[:records][:fields], path(field))
      def path(field) = "$.#{field.key}"
      def like(what, words) = Sequel.ilike(what, "%#{db.dataset.escape_like(words)}%")
      def filled(type, key, yes) = from.where(kind: type.key, field: key, empty: !yes)
      def indexed(type, key) = from.where(kind: type.key, field: key, empty: false, num: 0)
      def from = db.from(Sequel[:record_index].as(:found))
    end
  end
end
