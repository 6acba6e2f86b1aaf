# frozen_string_literal: true

module Yenvo
  module Store
    # Erases records for good that lie in the trash: thirty days after they were taken away, or at once when an
    # administrator says so. What stays is that something was erased, when and by whom.
    class Erasing < Base
      keeps :trash

      # What goes for good with a record.
      # @return [Hash{Symbol => Integer}] notes, files, tasks, messages, lists, linked
      def counts(id)
        row = root.trash.find!(id)
        all = whole(id)
        hanging = load(table.where(record_id: row[:record_id]).get(:hanging))
        {
          notes: hanging["notes"].size, lists: entries([id]).size, linked: (near(all) - all).size,
          tasks: root.task_rows.about(all).count, files: root.attachments.of_all(all).count,
          messages: db[:deliveries].where(record_id: all).count
        }
      end

      # Has one erased as soon as a worker comes to it. From then on it cannot be brought back.
      # @raise [NotFound]
      def begin(id, cause:)
        root.transaction do
          done = table.where(record_id: id, erased_by: nil).update(erase_at: cause.at, erased_by: cause.who)
          root.trash.find!(id) if done.zero?
        end
      end

      # Erases one whose time has come. One that cannot be erased is set aside for a while, so that it keeps nobody from
      # the others.
      # @return [Integer] how many were looked at
      def some(now:)
        root.transaction do
          row = table.where { erase_at <= now }.order(:erase_at).limit(1).for_update.skip_locked.first
          next 0 unless row

          attempt(row, now)
          1
        end
      end

      private

      LATER = 600
      private_constant :LATER

      def attempt(row, now)
        db.transaction(savepoint: true) { erase_unless_busy(row, now) }
      rescue Breakage => error
        wait([row[:record_id]], now)
        Breakage::LOG.error("A record could not be erased", {record: row[:record_id]}, error)
      end

      # A table that is being brought in, or taken back, is not taken from whoever does that.
      def erase_unless_busy(row, now)
        ids = whole(row[:record_id])
        root.imports.under_way_of?(ids) ? wait(ids, now) : step(row, ids, now)
      end

      # The files of others come first, some at a time, then all the rest at once.
      def step(row, ids, now)
        past = images(ids, table.where(record_id: ids).all)
        words = Core::ErasedWords.new(texts(past))
        around, short = EverLinked.new(root).around(ids, near(ids))
        files, all = files(row, words, around - ids, now)
        return go_on(row, files) unless all

        OwnWords.new(root).blank(ids, at: now)
        elsewhere(row, words, around - ids, of_type(past, "email"))
        table.where(record_id: ids).delete
        tell(row, short, files.told, Journal::Cause.new(who: row[:erased_by], at: now, run: nil, rule: nil, depth: 0))
      end

      def files(row, words, ids, now) =
        FilesElsewhere.new(root, words).some(ids, FilesElsewhere::Progress.read(row[:files]), at: now)

      def go_on(row, files) = table.where(record_id: row[:record_id]).update(files: dump(files.to_h))

      def elsewhere(row, words, ids, addresses)
        elsewhere = WordsElsewhere.new(root, words, row[:kind])
        elsewhere.take_out(ids)
        elsewhere.take_out_addresses(addresses)
      end

      def wait(ids, now) =
        table.where(record_id: ids).where { erase_at <= now }.update(erase_at: now + LATER)

      # @return [Array<Integer>] the record, what was merged into it, and their entries of lists
      def whole(id) = root.merges.with([id]).then { |ids| [*ids, *entries(ids)] }

      # Entries of lists about them that lie in the trash as well.
      def entries(ids)
        about = {target_id: ids, field: Core::Schema::Kind::ABOUT}
        table.where(record_id: db[:past_links].where(about).select(:record_id)).select_order_map(:record_id)
      end

      # @return [Array<Array(Core::Schema::Kind, Hash)>] how each was at any time, with its kind, the newest first
      def images(ids, rows)
        now = rows.map { |row| of_kind(row, row[:image]) }
        past = db[:journal].where(record_id: ids).reverse(:id).select(:kind, :before, :after)
        now + past.flat_map { |row| row.values_at(:after, :before).compact.map { |text| of_kind(row, text) } }
      end

      def of_kind(row, text) = [schema.kind(row[:kind]), load(text)]

      # What matters most first.
      def texts(past)
        titles = past.map { |_, image| image["title"] }
        [*titles, *of_type(past, "email"), *of_type(past, "phone"), *others(past)]
      end

      def of_type(past, type) = values(past) { |field| field.type == type }

      # Of a list that is gone nobody knows which are texts.
      def others(past)
        known, unknown = past.partition(&:first)
        values(known, &:textual?) + unknown.flat_map { |_, image| image.values.grep(String) }
      end

      def values(past, &) = past.flat_map { |kind, image| image.values_at(*keys(kind, &)) }.compact.uniq
      def keys(kind, &) = kind ? kind.own_fields.select(&).map(&:key) : []

      def near(ids) = EverLinked.new(root).near(ids)

      def tell(row, short, files, cause)
        kind = schema.kind(row[:kind])&.noun || "entry of a list"
        words = "erased the #{kind} #{row[:record_id]} for good"
        words += "; records more than #{short} links away were not looked through, being too many" if short
        words += "; #{files}" if files
        root.journal.add("record_erased", cause, record_id: row[:record_id], kind: row[:kind])
        root.audit.tell("erased", words, cause, "record #{row[:record_id]}")
      end
    end
  end
end
