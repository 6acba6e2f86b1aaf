# frozen_string_literal: true

module Yenvo
  module Store
    # Finds records of any kind by what somebody remembers of them: words of the title, the beginning of an e-mail, the
    # last digits of a phone, or the number. Only what whoever asks may see, by fields that they may see.
    class Finding < Base
      MOST = 12
      # Letters of an e-mail, and digits of a phone, from which on it is looked for them.
      LEAST_LETTERS = 3
      LEAST_DIGITS = 4
      PHONE = %r{\A[+\d][\d\s().\-/]*\z}

      # @param sight [Sight] of who asks
      def initialize(root, sight)
        super(root)
        @sight = sight
      end

      # @param kinds [Array<String>, nil] nil for all
      # @return [Array<Hash>] id, title, kind, stage, and why: in words by what it was found
      def find(text, kinds: nil)
        kinds = known(kinds)
        titled = root.lists.find(text.to_s, sight: @sight, kinds: kinds.map(&:key), limit: MOST)
        (direct(text, kinds) + titled.map { |row| row.merge(why: "Title") }).uniq { |row| row[:id] }.first(MOST)
      end

      # By number, e-mail and phone alone.
      # @param kinds [Array<Core::Schema::Kind>]
      # @return [Array<Hash>] as +find+
      def direct(text, kinds = known(nil))
        text = Core::Reading.trim(text.to_s)
        why = {**numbered(text), **mailed(text, kinds), **called(text, kinds)}
        why.empty? ? [] : of_kinds(rows(why.keys), kinds).map { |row| row.merge(why: why[row[:id]]) }
      end

      private

      def known(keys) = @sight.access.schema.kinds.each_value.select { |kind| keys.nil? || keys.include?(kind.key) }

      def of_kinds(rows, kinds) = rows.select { |row| kinds.any? { |kind| kind.key == row[:kind] } }

      def rows(ids)
        seen = @sight.titles(ids).keys
        found = db[:records].where(id: seen).select(:id, :title, :kind, :stage, :changed_at)
        found.reverse(:changed_at).limit(MOST).all
      end

      # @return [Hash{Integer => String}] why by id
      def numbered(text)
        number = text[/\A#?(\d{1,18})\z/, 1]
        number ? {number.to_i => "Number #{number.to_i}"} : {}
      end

      def mailed(text, kinds)
        return {} if text.size < LEAST_LETTERS || text.match?(/\s/)

        shown(kinds, "email") { |field| [field.key, RecordIndex.word(text)] }
      end

      # By the last digits; whatever stands between them.
      def called(text, kinds)
        digits = PHONE.match?(text) ? RecordIndex.digits(text) : ""
        return {} if digits.size < LEAST_DIGITS

        shown(kinds, "phone") { |field| [RecordIndex.phone(field), digits] }
      end

      # @param type [String] of the fields
      # @yieldreturn [Array(String, String)] under what it stands in the index, and how that begins
      def shown(kinds, type)
        kinds.flat_map { |kind| kind.own_fields.select { |field| field.type == type }.map { |field| [kind, field] } }
          .map { |kind, field| named(field, beginning(kind, *yield(field))) }.inject({}, :merge)
      end

      # @return [Hash{Integer => String}]
      def named(field, ids)
        root.records.images(ids).transform_values { |image| "#{field.label} #{image[field.key]}" }
      end

      def beginning(kind, field, word)
        at = Sequel[:record_index]
        rows = db[:record_index].where(at[:kind] => kind.key, at[:field] => field, at[:empty] => false, at[:num] => 0)
        rows = rows.where(Sequel.ilike(at[:word], "#{db.dataset.escape_like(word)}%"))
        test = @sight.test(kind)
        rows = rows.join(:records, id: at[:record_id]).where(test) if test
        rows.order(at[:word]).limit(MOST).select_map(at[:record_id])
      end
    end
  end
end
