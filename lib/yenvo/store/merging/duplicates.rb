# frozen_string_literal: true

module Yenvo
  module Store
    # Records of a kind that may be the same: with the same e-mail, a phone with the same last digits, or a title of
    # the same words in whatever order. Those that somebody said are not the same are left out.
    class Duplicates < Base
      PAGE = 30
      # Records of one group that are shown.
      MOST = 10
      # Groups that are looked at for one page, since some may be hidden or put away.
      LOOKED_AT = 300
      # Groups of one way that are asked for at once: to put them together takes as long for few.
      AT_ONCE = 100

      # One group. why: what they have alike, in words; ids: of the records, the oldest first.
      Group = Core::Value.define(:why, :ids)
      # One way to be alike. why: in words; rows: dataset of record_id and alike, what is the same in all of a group.
      Way = Core::Value.define(:why, :rows)
      private_constant :Way

      # @param kind [Core::Schema::Kind] as who asks knows it
      # @param sight [Sight] of who asks
      def initialize(root, kind, sight)
        super(root)
        @kind = kind
        @sight = sight
      end

      # @param after [Array(Integer, String), nil] where to go on
      # @return [Array(Array<Group>, Array)] groups, and where to go on; nil at the end
      def page(after: nil, limit: PAGE)
        way, from = after || [0, nil]
        groups, looked = [], 0
        while (one = ways[way])
          rows = alike(one, from)
          groups.concat(shown(rows).map { |ids| Group.new(why: one.why, ids:) })
          way, from = (rows.size < AT_ONCE) ? [way + 1, nil] : [way, rows.last[:alike]]
          return [together(groups), ways[way] && [way, from]] if groups.size >= limit || (looked += AT_ONCE) > LOOKED_AT
        end
        [together(groups), nil]
      end

      # Says that records are not the same, each and each.
      # @param ids [Array<Integer>]
      def put_away(ids, cause:)
        pairs = ids.uniq.sort.combination(2).map { |one, other| [one, other, cause.who, cause.at] }
        db[:not_alike].insert_ignore.import(%i[one_id other_id by at], pairs)
      end

      private

      def ways
        @ways ||= [
          *fields("email").map { |field| way(field, field.key, :word) },
          *fields("phone").map { |field| way(field, RecordIndex.phone(field), last_digits) },
          Way.new(why: "words in the title", rows: titles)
        ]
      end

      def fields(type) = @kind.own_fields.select { |field| field.type == type }

      def way(field, key, alike) = Way.new(why: field.label.downcase, rows: rows(key, alike))
      def rows(key, alike) = indexed(key).select(:record_id, Sequel.as(alike, :alike))

      # Digits stand in the index the last first.
      def last_digits
        enough = Sequel.function(:char_length, :word) >= Alike::DIGITS
        Sequel.case({enough => Sequel.function(:left, :word, Alike::DIGITS)}, nil)
      end

      def titles = rows(RecordIndex::WORDS, ALL_WORDS).group(:record_id)
      ALL_WORDS = Sequel.lit("GROUP_CONCAT(`word` ORDER BY `word` SEPARATOR ' ')")
      private_constant :ALL_WORDS

      def indexed(field) = db[:record_index].where(kind: @kind.key, field:, empty: false, num: 0)

      # @return [Array<Hash>] alike and ids of groups, in the order of what is alike
      def alike(way, from)
        ids = Sequel.lit("GROUP_CONCAT(`record_id` ORDER BY `record_id` LIMIT #{MOST})")
        found = way.rows.from_self(alias: :one).exclude(alike: nil)
        found = found.where { Sequel[:alike] > from } if from
        found.group(:alike).having { Sequel.function(:count).* > 1 }.order(:alike).limit(AT_ONCE)
          .select(:alike, ids.as(:ids)).all
      end

      # @return [Array<Array<Integer>>] those of each that are seen, where any two of them may be the same
      def shown(rows)
        all = rows.map { |row| row[:ids].split(",").map(&:to_i) }
        seen = @sight.records(all.flatten)
        all = all.map { |ids| ids.select { |id| seen.include?(id) } }.select { |ids| ids.size > 1 }
        away = put_away_of(all.flatten)
        all.reject { |ids| ids.combination(2).all? { |pair| away.include?(pair) } }
      end

      def put_away_of(ids)
        pairs = db[:not_alike].where(one_id: ids, other_id: ids)
        pairs.select_map(%i[one_id other_id]).to_set
      end

      # The same records that are alike in several ways are one group.
      def together(groups)
        groups.group_by(&:ids).map { |ids, some| Group.new(why: whole(some.map(&:why).uniq), ids:) }
      end

      def whole(whys) = "the same #{[whys[0..-2].join(", "), whys[-1]].reject(&:empty?).join(" and ")}"
    end
  end
end
