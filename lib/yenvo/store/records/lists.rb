# frozen_string_literal: true

module Yenvo
  module Store
    # Pages through the records of a kind: sorted by any field, filtered by choices and persons, searched by the words
    # of titles. Paged by key, so that the thousandth page costs what the first does.
    class Lists < Base
      PAGE = 50
      FEW = 2_000
      # So many are looked up by number, at most, when they are counted.
      MOST_FEW = 10_000

      # What a list asks for. filters: Hash of field key to Array of plain values ("" for empty); search: String or nil;
      # sort: field key; down: true for largest first; after: Hash as returned in next, or nil;
      # now: Time, for worked-out fields that depend on the day; ranges: Hash of field key to Array of the least and the
      # greatest plain value (either may be nil), for numbers and dates; holds: Hash of field key to words that stand in
      # it; filled: Hash of field key to whether it is filled in; ids: Array of the only records, or nil; sight: Sight
      # of who asks, nil for all records.
      Query =
        Core::Value.define(
          :kind, :filters, :search, :sort, :down, :after, :limit, now: nil, ranges: nil, holds: nil, filled: nil,
          ids: nil, sight: nil
        ) do
          # @return [Core::Schema] as who asks knows it
          def schema(all) = sight ? sight.access.schema : all
        end

      # @param query [Query]
      # @return [Hash] rows: images in order; next: where to go on, nil at the end
      # @raise [Refused]
      def page(query)
        type =
          query.schema(schema).kind(query.kind) ||
          raise(NotFound, "There is no kind of record #{query.kind.inspect}.")
        check(type, query)
        query = shifted(type, query)
        ids, more = (query.sort == "changed") ? by_change(type, query) : by_index(type, query)
        images = root.records.images(ids.map { |row| row[:id] })
        {rows: ids.filter_map { |row| images[row[:id]] }, next: more ? place(ids.last) : nil}
      end

      # @param limit [Integer] counting stops there, since nobody reads beyond
      # @return [Integer] how many records match
      def count(query, limit: 10_000)
        type = query.schema(schema).kind!(query.kind)
        query = shifted(type, query)
        found = narrow(base(type.key), type, query, few: [limit, MOST_FEW].min)
        db.from(found.select(Sequel[:records][:id]).limit(limit + 1)).count
      end

      # @return [Sequel::Dataset] numbers of all that match, in no order
      def ids(query)
        type = query.schema(schema).kind!(query.kind)
        check(type, query)
        narrow(base(type.key), type, shifted(type, query)).select(Sequel[:records][:id])
      end

      # Finds records of any kind by the words of their titles, for going to one.
      # @param sight [Sight] of who asks
      # @return [Array<Hash>] id, title, kind, stage
      def find(text, sight: Sight.new(root, nil), kinds: nil, limit: 12)
        first, *others = RecordIndex.words(text)
        return [] unless first

        ids =
          (kinds || schema.kinds.keys).flat_map do |kind|
            found = others.inject(indexed_words(kind, first)) { |some, word| some.where(also(kind, word)) }
            found = of_seen(found, sight.test(schema.kind!(kind)))
            found.order(:word).limit(limit).select_map(:record_id)
          end
        found = db[:records].where(id: ids.uniq).select(:id, :title, :kind, :stage, :changed_at)
        found.reverse(:changed_at).limit(limit).all
      end

      # Records of a kind, newest change first, for going through many.
      # @param pins [Hash{String => Array}] fields and the values to one of which each must be equal
      # @param after [Hash, nil] "changed" and "id" of the last one seen
      # @param filters [Hash] as in a Query
      # @return [Array<Hash>] images
      def newest(kind, pins, after:, limit:, filters: {}, search: nil, now: nil)
        type = schema.kind!(kind)
        place = after && {"value" => after["changed"], "id" => after["id"]}
        query = Query.new(kind:, filters: pins, search:, now:, sort: "changed", down: true, after: place, limit:)
        check(type, query.with(filters:))
        found = narrow(base(kind), type, query)
        found = narrow(found, type, shifted(type, query.with(filters:, search: nil))) if filters.any?
        in_order_of_change(found, query).limit(limit).select(*Image::COLUMNS).map { |row| Image.of(row) }
      end

      INDEXED_AT_ONCE = 1_000
      private_constant :INDEXED_AT_ONCE

      # Indexes a field of all records of a kind anew, bit by bit, each a transaction of its own.
      # @param field [Core::Schema::Field]
      def index_field(kind, field)
        return if field.worked_out?

        last = 0
        until (ids = root.records.ids_of(kind, after: last, limit: INDEXED_AT_ONCE)).empty?
          root.transaction do
            rows =
              root.records.held(ids).values
                .flat_map { |image| RecordIndex.rows(field, image[field.key]).map { |row| [kind, image["id"], *row] } }
            db[:record_index].where(kind:, field: RecordIndex.keys(field), record_id: ids).delete
            db[:record_index].import(RecordIndex::COLUMNS, rows)
          end
          last = ids.last
        end
      end

      # Left alone, MariaDB goes through the whole range for each record.
      OF_RECORD = Sequel.lit("`record_index` AS `found` FORCE INDEX (`record_index_of_record`)")
      private_constant :OF_RECORD

      private

      # Sliding fields stand in the index less the number of the day, so their values are looked for like that.
      def shifted(type, query)
        return query unless query.now

        shifts =
          Hash.new do |known, key|
            field = type.field(key)
            known[key] = field ? root.worked_out.shift(type, field, query.now) : 0
          end
        less = ->(key, value) { (value.nil? || value == "" || shifts[key].zero?) ? value : value.to_f - shifts[key] }
        filters = query.filters.to_h { |key, values| [key, values.map { |value| less.call(key, value).to_s }] }
        ranges = (query.ranges || {}).to_h { |key, ends| [key, ends.map { |value| less.call(key, value) }] }
        query.with(filters:, ranges:)
      end

      def check(type, query)
        unless type.field(query.sort)
          refuse("sort", "There is no field #{Core::Show.quoted(query.sort)} to sort by.")
        end

        (query.ranges || {}).each_key do |key|
          field = type.field(key)
          fits = field && key != "changed" && (field.numeric? || field.dated?)
          raise Refused.at(key => "There is no number or date #{Core::Show.quoted(key)} to filter by.") unless fits
        end
        query.filters.each { |key, values| check_filter(type, key, values) }
        words.check(type, query)
      end

      def words = @words ||= ListWords.new(root)

      def check_filter(type, key, values)
        field = type.field(key)
        raise Refused.at(key => "There is no field #{Core::Show.quoted(key)} to filter by.") unless field
        return unless by_number?(field)

        wrong = values.find { |value| value != "" && !NUMBER.match?(value) }
        raise Refused.at(key => "#{field.label} is filtered by a number; #{wrong[0, 60].inspect} is none.") if wrong
      end

      # A number as it stands in an address, of a size that the index holds.
      NUMBER = /\A-?\d{1,15}(\.\d{1,15})?\z/
      private_constant :NUMBER

      def by_number?(field) = field.numeric? || field.type == "link"

      def base(kind) = db[:records].where(Sequel[:records][:kind] => kind)

      # Stage and owner stand in the table itself; all else is looked up in the index.
      def narrow(found, type, query, few: FEW, seen: query.sight&.test(type))
        tests = [seen].compact
        tests +=
          query.filters.map do |key, values|
            next stands(key, values) if %w[stage owner].include?(key)

            among(indexed_values(type, type.field(key), values), few)
          end
        tests +=
          (query.ranges || {}).map do |key, ends|
            field = type.field(key)
            among(indexed_range(type, field, ends), few, of_one: indexed_range(type, field, ends, from: OF_RECORD))
          end
        tests += words.tests(type, query).map { |one| one.is_a?(Sequel::Dataset) ? among(one, few) : one }
        tests << {Sequel[:records][:id] => query.ids} if query.ids
        searched = RecordIndex.words(query.search)
        # Signs alone are no words, and no title has them.
        tests << false if searched.empty? && !query.search.to_s.strip.empty?
        tests += searched.map { |word| among(indexed_words(type.key, word), few) }
        tests.inject(found) { |narrower, test| narrower.where(test) }
      end

      def stands(key, values)
        column = Sequel[:records][key.to_sym]
        blank, filled = values.partition { |value| value == "" }
        blank.any? ? Sequel.|({column => filled}, {column => nil}) : {column => filled}
      end

      # What few records have is fetched and looked up by number; what many have is asked of each record in the order
      # of the list, of which only a page is needed.
      # @param of_one [Sequel::Dataset] the same rows, found by their record
      def among(rows, few, of_one: rows)
        ids = rows.limit(few + 1).select_map(:record_id)
        if ids.size <= few
          {Sequel[:records][:id] => ids.uniq}
        else
          of_one.where(record_id: Sequel[:records][:id]).select(1).exists
        end
      end

      def indexed_values(type, field, values)
        blank, filled = values.partition { |value| value == "" }
        by = by_number?(field) ? {num: filled.map(&:to_f)} : {num: 0, word: filled.map { |one| RecordIndex.word(one) }}
        test = {empty: false, **by}
        rows = db.from(Sequel[:record_index].as(:found)).where(kind: type.key, field: field.key)
        rows.where(blank.any? ? Sequel.|(test, {empty: true}) : test)
      end

      # Filled-in values from one to another; a day given as the end of moments is meant to its end.
      def indexed_range(type, field, ends, from: Sequel[:record_index].as(:found))
        column = Sequel[field.numeric? ? :num : :word]
        rows = db.from(from).where(kind: type.key, field: field.key, empty: false)
        rows = rows.where(num: 0) unless field.numeric?
        rows = rows.where(column >= ends[0]) if ends[0]
        if ends[1]
          rows.where(column <= (field.numeric? ? ends[1] : "#{ends[1].downcase}~"))
        else
          rows
        end
      end

      def indexed_words(kind, word)
        starts = Sequel.ilike(:word, "#{db.dataset.escape_like(word)}%")
        db.from(Sequel[:record_index].as(:found))
          .where(kind:, field: RecordIndex::WORDS, empty: false, num: 0).where(starts)
      end

      def of_seen(found, test)
        return found unless test

        there = db[:records].where(Sequel[:records][:id] => Sequel[:found][:record_id])
        found.where(there.where(test).select(1).exists)
      end

      # Whether a record has another word, too.
      def also(kind, word)
        found = indexed_words(kind, word).from(Sequel[:record_index].as(:other))
        found.where(record_id: Sequel[:found][:record_id]).select(1).exists
      end

      def by_change(type, query)
        found = narrow(base(type.key), type, query).select(Sequel[:records][:id], CHANGED)
        cut(in_order_of_change(found, query).limit(query.limit + 1).all, query.limit)
      end

      def in_order_of_change(found, query)
        changed = Sequel[:records][:changed_at]
        found = found.where(beyond(query, changed, Time.iso8601(query.after["value"]))) if query.after
        found.order(*directed(query.down, changed, Sequel[:records][:id]))
      end

      CHANGED = Sequel.function(:date_format, Sequel[:records][:changed_at], Image::STAMP).as(:value)
      private_constant :CHANGED

      def beyond(query, column, value)
        id = Sequel[:records][:id]
        place = query.after["id"]
        further, beside = query.down ? [column < value, id < place] : [column > value, id > place]
        further | (Sequel.expr(column => value) & beside)
      end

      def directed(down, *columns) = columns.map { |column| down ? Sequel.desc(column) : Sequel.asc(column) }

      # Filled-in values first, whichever way they run; then the empty ones.
      def by_index(type, query)
        field = type.field(query.sort)
        column = by_number?(field) ? :num : :word
        rows = (query.after && query.after["empty"]) ? [] : indexed(type, field, query, false, column, query.limit + 1)
        rows += indexed(type, field, query, true, column, query.limit + 1 - rows.size) if rows.size <= query.limit
        cut(rows, query.limit)
      end

      def indexed(type, field, query, empty, column, limit)
        at = Sequel[:record_index]
        found = db[:record_index].where(at[:kind] => type.key, at[:field] => field.key, at[:empty] => empty)
        found = found.where(at[:num] => 0) if column == :word
        if narrowed?(query)
          # Where no range is narrow, the order of the list is gone along until a page is full; MariaDB would sort all
          # that match.
          seen = few_seen(type, query) || query.sight&.test(type)
          way = (wide_ranges?(type, query) || wide_sight?(query, seen)) ? :straight : :inner
          found = narrow(found.join_table(way, :records, id: at[:record_id]), type, query, seen:)
        end
        found = resume(found, query, at, column) if query.after && query.after["empty"] == empty
        found.order(*directed(query.down, at[:num], at[:word], at[:record_id])).limit(limit)
          .select(at[:record_id].as(:id), at[column].as(:value), at[:empty]).all
      end

      # @return [Hash, nil] the numbers of all that is seen, where that is not much
      def few_seen(type, query)
        test = query.sight&.test(type) or return
        ids = base(type.key).where(test).limit(FEW + 1).select_map(Sequel[:records][:id])
        {Sequel[:records][:id] => ids} if ids.size <= FEW
      end

      def wide_sight?(query, seen) =
        !seen.nil? && !seen.is_a?(Hash) && query.to_h.slice(*NARROWING).values.all? { |one| one.nil? || one.empty? }
      NARROWING = %i[filters search ranges holds filled ids].freeze
      private_constant :NARROWING

      def wide_ranges?(type, query)
        query.ranges&.any? &&
          query.ranges.all? do |key, ends|
            indexed_range(type, type.field(key), ends).limit(FEW + 1).select_map(:record_id).size > FEW
          end
      end

      def narrowed?(query) =
        query.filters.any? || query.search || query.ids || (query.sight && !query.sight.all?) ||
          [query.ranges, query.holds, query.filled].any? { |one| one&.any? }

      def resume(found, query, at, column)
        value = query.after["value"]
        id = query.after["id"]
        value_column = at[column]
        if query.down
          found.where(value_column <= value).where((value_column < value) | (at[:record_id] < id))
        else
          found.where(value_column >= value).where((value_column > value) | (at[:record_id] > id))
        end
      end

      def cut(rows, limit) = [rows.first(limit), rows.size > limit]

      def place(row) = {"id" => row[:id], "value" => row[:value], "empty" => row[:empty] || false}
    end
  end
end
