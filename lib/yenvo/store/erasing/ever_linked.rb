# frozen_string_literal: true

module Yenvo
  module Store
    # Which records were ever linked with others, by a field or by hand.
    class EverLinked < Base
      LINKS_AWAY = 3
      # Records that are looked through at most, but for those that were linked themselves.
      MOST = 5_000

      # Those that were linked with records that lie in the trash.
      # @param ids [Array<Integer>]
      # @return [Array<Integer>]
      def near(ids) = named(ids) | linked(ids) | hung(ids)

      # @param ids [Array<Integer>]
      # @return [Array(Array<Integer>, Integer)] these, those near, and those up to three links away; and, where these
      #   are too many, up to how many links
      def around(ids, near)
        seen, last = ids | near, near
        (2..LINKS_AWAY).each do |away|
          last = linked(last, most: MOST) - seen
          return [seen, away - 1] if seen.size + last.size > MOST

          seen |= last
        end
        [seen, nil]
      end

      private

      # What the history says, since links by hand leave no other trace.
      def named(ids)
        said = db[:journal].where(record_id: ids, what: %w[linked unlinked put_on_list]).select_map(:detail)
        said.compact.flat_map { |text| load(text).values_at("record", "target") }.grep(Integer)
      end

      # @param most [Integer, nil] about how many are enough to know that it is too many
      def linked(ids, most: nil) =
        ids.each_slice(1_000).flat_map { |some| ends(some, most) }.uniq

      def ends(ids, most) =
        %i[links past_links].flat_map { |name| ends_of(db[name], ids, most) }

      def ends_of(links, ids, most) =
        links.where(record_id: ids).limit(most).select_map(:target_id) +
          links.where(target_id: ids).limit(most).select_map(:record_id)

      def hung(ids)
        db[:trash].where(record_id: ids).select_map(:hanging)
          .flat_map { |text| load(text)["links"].flat_map { |link| link.values_at("record_id", "target_id") } }.uniq
      end
    end
  end
end
