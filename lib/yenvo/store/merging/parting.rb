# frozen_string_literal: true

module Yenvo
  module Store
    # Parts what was merged: each record is back with what was moved, fields are as they were. What came after the merge
    # stays where it came, and so does a field that somebody has changed since.
    class Parting < Base
      PARTED = "record_parted"

      # @return [Hash] image of the record that had stayed
      # @raise [Refused, NotFound]
      def part(id, cause:)
        root.transaction do
          merge = db[:merges].where(id:).for_update.first || root.merges.find!(id)
          refuse_late(merge, cause.at)
          kept = merge[:kept_id]
          there!(kept)
          quiet = cause.with(unheard: true)
          gone = db[:merged].where(merge_id: id).order(:id).all
          put_fields_back(kept, load(merge[:changed]), quiet)
          gone.each { |row| bring_back(merge, row, quiet) }
          finish(merge, gone, cause)
        end
      end

      private

      LATE =
        "They were merged more than #{Merges::DAYS} days ago, or what they were is erased; nothing parts them.".freeze
      private_constant :LATE

      def refuse_late(merge, now)
        refuse("merge", "They were parted already.") if merge[:parted_at]
        refuse("merge", LATE) if merge[:changed].nil? || Merges.ends(merge) < now
      end

      def there!(kept)
        return if db[:records].where(id: kept).any?

        refuse("merge", "What they became lies in the trash. Bring that back first.") if root.trash.find(kept)
        further = root.merges.became([kept])[kept]
        refuse("merge", further ? FURTHER : LATE)
      end
      FURTHER = "What they became was itself merged with another. Part that first."
      private_constant :FURTHER

      def put_fields_back(kept, changed, cause)
        image = Image.of(root.records.lock(kept))
        still = changed.select { |key, (_, now)| image[key] == now }
        root.records.set_back(kept, still.transform_values(&:first), cause:) if still.any?
      end

      def bring_back(merge, row, cause)
        kept, gone = row.values_at(:kept_id, :record_id)
        db[:merged].where(id: row[:id]).delete
        root.records.restore({**load(row[:image]), "kind" => merge[:kind]}, cause:)
        moves = Moves.new(root, merge[:id], kept)
        moves.back(gone)
        moves.noted("field", gone).each { |one| lead_back(one, kept, gone, cause) }
        moves.noted("entry", gone).each { |one| root.trash.put_back(one[:ref], cause:) if root.trash.find(one[:ref]) }
        root.links.lead_to(gone)
        root.worked_out.came_back(gone, cause.at)
      end

      def lead_back(one, kept, gone, cause)
        return if db[:records].where(id: one[:ref]).empty?

        root.records.lead_on(one[:ref], one[:field], (kept unless one[:ref] == kept), gone, cause:)
      end

      def finish(merge, gone, cause)
        kept = merge[:kept_id]
        db[:merges].where(id: merge[:id]).update(parted_at: cause.at, parted_by: cause.who)
        ids = [kept, *column(gone, :record_id)]
        root.happened.tasks_touched(ids.map { |id| [merge[:kind], id] }, cause.at)
        detail = {"titles" => gone.map { |row| load(row[:image])["title"] }, "records" => column(gone, :record_id)}
        root.journal.add(PARTED, cause, record_id: kept, kind: merge[:kind], detail:)
        root.records.find!(kept)
      end
    end
  end
end
