# frozen_string_literal: true

module Yenvo
  module Store
    # Which records were merged into which, and what can still be parted.
    class Merges < Base
      keeps :merges

      # Days for which they can be parted.
      DAYS = 30
      PURGED_AT_ONCE = 100

      # @param ids [Array<Integer>]
      # @return [Array<Integer>] these, and all that were merged into them, and into those
      def with(ids)
        all, last = ids, ids
        until last.empty?
          last = members.where(kept_id: last).select_map(:record_id) - all
          all += last
        end
        all
      end

      # @return [Hash{Integer => Integer}] the record that each of them became
      def became(ids) = into(ids).transform_values { |id| last_of(id) }

      # @raise [NotFound]
      def find!(id) = table.where(id:).first || raise(NotFound, "There is no such merge.")

      # @return [Array<Hash>] merges into a record that can be parted still, the newest first, with titles
      def open_of(record_id, now:)
        rows = table.where(kept_id: record_id, parted_at: nil).exclude(changed: nil).reverse(:id)
        rows = rows.where { at > now - (DAYS * 86_400) }.all
        images = members.where(merge_id: column(rows, :id)).order(:id).select_hash_groups(:merge_id, :image)
        rows.map { |row| row.merge(titles: images[row[:id]].map { |image| load(image)["title"] }) }
      end

      # Forgets how they were, after 30 days; what became of which stays.
      # @return [Integer] how many merges
      def purge(now:) = forget(old(now).limit(PURGED_AT_ONCE).select_map(:id))

      # Forgets how those were that were merged into records that are erased.
      def forget_of(record_ids) = forget(table.where(kept_id: record_ids).select_map(:id))

      # @param row [Hash]
      # @return [Time] until when they can be parted
      def self.ends(row) = row[:at] + (DAYS * 86_400)

      private

      def old(now) = table.where { at < now - (DAYS * 86_400) }.exclude(changed: nil)
      def members = db[:merged]

      def into(ids) = members.where(record_id: ids).select_hash(:record_id, :kept_id)

      def last_of(id)
        further = into(id)[id]
        further ? last_of(further) : id
      end

      def forget(ids)
        root.transaction do
          db[:merge_moves].where(merge_id: ids).delete
          members.where(merge_id: ids).update(image: nil)
          table.where(id: ids).update(changed: nil)
        end
        ids.size
      end
    end
  end
end
