# frozen_string_literal: true

module Yenvo
  module Store
    # Merges records of one kind into one of them: what hangs on the others hangs on that from then on, what led to them
    # leads to it, and its history is theirs too. Within 30 days they can be parted again (see Parting).
    class Merging < Base
      MOST = 10
      # Records that lead to those that go, at most: all is done in one transaction.
      MOST_LEADING = 2_000
      HOW_MANY = "Choose from two to #{MOST} records to merge.".freeze
      MERGED = "record_merged"
      AWAY = "merged_away"
      ABOUT = Core::Schema::Kind::ABOUT

      # @param kept [Integer] the record that stays
      # @param others [Array<Integer>] those that go
      # @param choices [Hash] see Core::Merging#values
      # @return [Hash] its image
      # @raise [Refused, NotFound]
      def merge(kept, others, choices, cause:)
        refuse("records", HOW_MANY) unless fits?(kept, others)

        root.transaction do
          rows = [kept, *others].sort.to_h { |id| [id, root.records.lock(id)] }
          images = [kept, *others].map { |id| Image.of(rows[id]) }
          kind = kind(rows.values)
          changes = read(kind, images, choices)
          quiet = cause.with(unheard: true)
          id = begin_one(kind, kept, cause)
          others.each { |gone| take_in(id, kept, rows[gone], quiet) }
          finish(id, images, changes, cause)
        end
      end

      # What comes along, by what it is.
      # @param others [Array<Integer>] those that go
      # @return [Hash{Symbol => Integer}]
      def along(others)
        {
          notes: db[:interactions].where(record_id: others).count, tasks: root.task_rows.about(others).count,
          files: db[:attachments].where(record_id: others).count, links: leading(others).count,
          messages: db[:deliveries].where(record_id: others).count,
          kits: db[:kit_copies].where(record_id: others, state: "running").count
        }
      end

      private

      def fits?(kept, others)
        others.any? && others.size < MOST && ([kept] | others).size == others.size + 1
      end

      def kind(rows)
        kinds = rows.map { |row| row[:kind] }.uniq
        refuse("records", "Only records of one kind can be merged.") if kinds.size > 1
        type = schema.kind!(kinds[0])
        refuse("records", "Entries of lists are not merged; take one of them off the list.") if type.about
        type
      end

      def read(kind, images, choices)
        Core::Merging.new(kind, images).values(choices)
      rescue Core::Unreadable => error
        refuse("choices", error.message)
      end

      def begin_one(kind, kept, cause) =
        db[:merges].insert(kind: kind.key, kept_id: kept, by: cause.who, at: cause.at, changed: "{}")

      # @param row [Hash] of the record that goes
      def take_in(merge, kept, row, cause)
        gone = row[:id]
        moves = Moves.new(root, merge, kept)
        moves.over(gone)
        lead_here(moves, kept, gone, cause)
        image = Image.of(root.records.lock(gone))
        db[:merged].insert(merge_id: merge, record_id: gone, kept_id: kept, image: dump(image))
        away(row, image, kept, cause)
      end

      def leading(ids) = db[:links].where(target_id: ids).exclude(field: "")

      # Records with a field that leads to the one that goes.
      def lead_here(moves, kept, gone, cause)
        found = leading(gone).order(:record_id, :field).limit(MOST_LEADING + 1).select_map(%i[record_id field])
        refuse("records", too_many) if found.size > MOST_LEADING
        found.each { |id, field| lead(moves, kept, gone, id, field, cause) }
      end

      def too_many =
        "More than #{Core::Show.count(MOST_LEADING)} records lead to one of those that go. Keep that one instead."

      # A record does not lead to itself, and stands on a list once.
      def lead(moves, kept, gone, id, field, cause)
        return if id == gone
        return take_off(moves, gone, id, cause) if field == ABOUT && twice?(kept, id)

        moves.note("field", id, gone, field) if root.records.lead_on(id, field, gone, (kept unless id == kept), cause:)
      end

      def twice?(kept, entry) = root.list_entries.of(kept, kind_of(entry)).any?
      def kind_of(id) = db[:records].where(id:).get(:kind)

      def take_off(moves, gone, entry, cause)
        root.trash.take_away(root.records.lock(entry), "taken_off_list", ONCE, cause:)
        moves.note("entry", entry, gone)
      end
      ONCE = "What it is about was merged with another that stands on the list."
      private_constant :ONCE

      def away(row, image, kept, cause)
        type = schema.kind!(row[:kind])
        title = db[:records].where(id: kept).get(:title)
        entry = root.journal.add(AWAY, cause, record_id: row[:id], kind: row[:kind], before: image,
          detail: {"record" => kept, "title" => title})
        root.happened.record_gone(type, image, entry, cause)
        db[:records].where(id: row[:id]).delete
      end

      def finish(id, images, changes, cause)
        kept, *others = images
        root.records.change(kept["id"], changes, cause:) if changes.any?
        after = root.records.touch(kept["id"], at: last_contact(others), cause:, what: MERGED, detail: detail(others))
        was_is = [*changes.keys, "last_contact"].to_h { |key| [key, [kept[key], after[key]]] }
        db[:merges].where(id:).update(changed: dump(was_is.reject { |_, (was, is)| was == is }))
        kind = db[:merges].where(id:).get(:kind)
        root.happened.tasks_touched([[kind, kept["id"]]], cause.at)
        after
      end

      def detail(images) = {"titles" => each_of(images, "title"), "records" => each_of(images, "id")}
      def each_of(images, key) = images.map { |one| one[key] }

      def last_contact(images)
        last = images.filter_map { |image| image["last_contact"] }.max
        last && Core::Reading.time(last)
      end
    end
  end
end
