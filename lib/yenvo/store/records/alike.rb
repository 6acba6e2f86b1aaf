# frozen_string_literal: true

module Yenvo
  module Store
    # Records that may be the same as one that is about to be made: of the same kind, with the same e-mail, a phone with
    # the same last digits, or a title of the same words. Only what whoever asks may see.
    class Alike < Base
      MOST = 5
      # Of a phone so many are compared, since some write the country and some do not.
      DIGITS = 7
      # Titles of one word are the same only as a whole.
      LEAST_WORDS = 2

      # @param sight [Sight] of who asks
      def initialize(root, sight)
        super(root)
        @sight = sight
      end

      # @param kind [Core::Schema::Kind]
      # @param values [Hash{String => Object}] as typed
      # @return [Array<Hash>] id, title and why: in words by what it is like
      def to(kind, values)
        why = fields(kind, values).inject({}) { |found, (field, value)| by(kind, field, value).merge(found) }
        named(why.first(MOST).to_h)
      end

      private

      # The e-mail says more than a phone, and that more than a name.
      ORDER = %w[email phone text].freeze
      private_constant :ORDER

      def fields(kind, values) =
        values.filter_map { |key, value| pair(kind.field(key), value.to_s.strip) }
          .sort_by { |field, _| ORDER.index(field.type) }

      def pair(field, value) = ([field, value] if field && !value.empty? && tells?(field))
      def tells?(field) = field.key == "title" || %w[email phone].include?(field.type)

      def by(kind, field, value) =
        @sight.records(ids(kind, field, value)).sort.to_h { |id| [id, "the same #{field.label.downcase}"] }

      def ids(kind, field, value)
        case field.type
        when "email" then at(kind, field.key, word: RecordIndex.word(value))
        when "phone" then called(kind, field, RecordIndex.digits(value))
        else titled(kind, value)
        end
      end

      def at(kind, field, **more)
        indexed(kind, field).where(more).limit(MOST).select_map(:record_id)
      end

      def indexed(kind, field) = db[:record_index].where(kind: kind.key, field:, empty: false, num: 0)

      def called(kind, field, digits)
        return [] if digits.size < DIGITS

        found = indexed(kind, RecordIndex.phone(field))
        found.where(Sequel.ilike(:word, "#{digits[0, DIGITS]}%")).limit(MOST).select_map(:record_id)
      end

      def titled(kind, title)
        words = RecordIndex.words(title)
        (words.size < LEAST_WORDS) ? at(kind, "title", word: RecordIndex.word(title)) : worded(kind, words)
      end

      # Those with all of these words and no other, in whatever order. The longest word is the rarest.
      def worded(kind, words)
        rows = words_of(at_word(kind, words.max_by(&:size)))
        rows.group_by(&:first).select { |_, some| some.map(&:last).sort == words.sort }.keys
      end

      def words_of(ids) =
        db[:record_index].where(record_id: ids, field: RecordIndex::WORDS).select_map(%i[record_id word])

      MOST_RARE = 200
      private_constant :MOST_RARE

      def at_word(kind, word) =
        indexed(kind, RecordIndex::WORDS).where(word:).limit(MOST_RARE).select_map(:record_id)

      def named(why)
        titles = root.records.titles(why.keys)
        why.filter_map { |id, words| titles[id] && told(titles[id], words) }
      end

      def told(row, why) = {**row.slice(:id, :title), why:}
    end
  end
end
