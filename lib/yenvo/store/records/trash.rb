# frozen_string_literal: true

module Yenvo
  module Store
    # What was taken away, with everything that hung on it: notes, links, open tasks, kits in use, places on lists. It
    # comes back whole within 30 days; until then its timers and kits rest.
    class Trash < Base
      keeps :trash

      DAYS = 30

      # @param row [Hash]
      # @return [Time] until when it can be brought back
      def self.ends(row) = row[:at] + (DAYS * 86_400)

      # What goes along with a record.
      # @return [Hash{Symbol => Integer}] notes, open_tasks, links, kits and lists
      def hanging(record_id)
        {
          notes: db[:interactions].where(record_id:).count,
          open_tasks: root.task_rows.open_about(record_id).count, links: links_of(record_id).count,
          kits: root.copies.running_on(record_id).size, lists: entries_about(record_id).size
        }
      end

      PAGE = 50
      # @param sight [Sight] of who asks
      # @param before [Integer, nil] how many to pass over
      # @return [Array<Hash>] record_id, kind, title, owner, by and at, the newest first
      def page(sight, after: nil, limit: PAGE)
        found = here.select(:record_id, :kind, :title, :owner, :by, :at).where(sight.anywhere(Sequel[:trash]))
        found = found.where(kind: schema.kinds.keys).order(Sequel.desc(:at), Sequel.desc(:record_id)).limit(limit)
        (after ? found.where { Sequel.|(at < after[0], (at =~ after[0]) & (record_id < after[1])) } : found).all
      end

      # @param ids [Array<Integer>]
      # @param sight [Sight] of who asks
      # @return [Hash{Integer => Hash}] id, title and kind of those that lie here and are seen
      def titles(ids, sight)
        return {} if ids.empty?

        here.where(record_id: ids).where(sight.anywhere(Sequel[:trash])).select(:record_id, :title, :kind)
          .to_hash(:record_id).transform_values { |row| {id: row[:record_id], **row.slice(:title, :kind)} }
      end

      # Takes a record away, as people do by hand.
      # @return [Hash] its last image, with its kind
      # @raise [NotFound]
      def remove(id, cause:)
        root.transaction do
          row = root.records.lock(id)
          what = row[:kind].start_with?("entry/") ? "taken_off_list" : "record_removed"
          take_away(row, what, "“#{row[:title]}” was taken away.", cause:)
        end
      end

      # Takes a record away, in the caller's transaction.
      # @param row [Hash] locked
      # @param what [String] what happened, for the journal
      # @param why [String] what stands on its tasks
      # @return [Hash] its last image, with its kind
      def take_away(row, what, why, cause:)
        id = row[:id]
        entries = entries_about(id).each { |entry| along(entry, cause) }
        copies = root.copies.rest(id, cause:)
        tasks = drop_tasks(id, why, cause)
        # The drops are steps of the record; it goes as it is after them.
        image = Image.of(root.records.lock(id))
        keep(row, image, {tasks:, copies:, entries:}, cause)
        entry =
          root.journal.add(
            what, cause, record_id: id, kind: row[:kind], before: image, detail: {"title" => row[:title]}
          )
        root.happened.record_gone(schema.kind!(row[:kind]), image, entry, cause)
        db[:records].where(id:).delete
        image.merge("kind" => row[:kind])
      end

      # @return [Hash, nil] row of what was taken away: title, kind, by, at
      def find(record_id) =
        here.where(record_id:).select(:record_id, :kind, :title, :owner, :by, :at).first

      # @raise [NotFound]
      def find!(record_id) =
        find(record_id) ||
          raise(NotFound, NOTHING)
      NOTHING =
        "There is nothing to bring back; it may be back already, or was taken away more than #{DAYS} days ago.".freeze

      # Brings a record back with what hung on it.
      # @return [Hash] its image
      # @raise [NotFound, Refused]
      def put_back(record_id, cause:)
        root.transaction do
          kept = here.where(record_id:)
          row = kept.for_update.first || find!(record_id)
          kind = row[:kind]
          unless schema.kind(kind)
            refuse("list", "The list it stood on was taken away; an administrator can bring that back first.")
          end

          image = led_on(schema.kind(kind), load(row[:image]))
          about = image[Core::Schema::Kind::ABOUT]
          if about && root.list_entries.of(about, kind).any?
            refuse("list", "It stands on the list again already.")
          end
          lost = about && find(about)
          refuse("list", "It is about “#{lost[:title]}”, which was taken away. Bring that back first.") if lost

          root.records.restore({**image, "kind" => kind}, cause:)
          kept.delete
          hang(record_id, load(row[:hanging]), cause)
          root.worked_out.came_back(record_id, cause.at)
          root.records.find!(record_id)
        end
      end

      # Forgets one at once; in the caller's transaction.
      def forget(record_id)
        root.attachments.forget([record_id])
        delete_keys(:trash, :record_id, [record_id])
      end

      private

      # What can be brought back: not what is being erased.
      def here = table.where(erased_by: nil)

      def links_of(id) = db[:links].where(Sequel.|({target_id: id}, {record_id: id, field: ""}))

      # @return [Array<Integer>] of entries of lists about it
      def entries_about(id) =
        db[:links].where(target_id: id, field: Core::Schema::Kind::ABOUT).order(:record_id).select_map(:record_id)

      # An entry of a list goes with what it is about.
      def along(entry, cause)
        row = root.records.lock(entry)
        take_away(row, "taken_off_list", "What it is about was taken away.", cause:)
      end

      # @return [Array<Hash>] id, state and version of each task as it lies in the trash
      def drop_tasks(id, why, cause)
        root.task_rows.open_about(id).order(:id).for_update.all.map do |task|
          dropped = root.tasks.drop(task[:id], note: why, cause:)
          {"id" => task[:id], "state" => task[:state], "version" => dropped[:version]}
        end
      end

      def keep(row, image, along, cause)
        id = row[:id]
        notes = db[:interactions].where(record_id: id).order(:id).all
        notes.each { |note| root.search_words.note_changed(note, nil) }
        hanging = {
          notes: notes.map { |note| note.transform_values { |one| Core::Reading.plain(one) } },
          links: links_of(id).select(:record_id, :field, :target_id, :entry_id).all, **along
        }
        table.where(record_id: id).delete
        table.insert(
          record_id: id, **row.slice(:kind, :title, :owner), image: dump(image), hanging: dump(hanging), by: cause.who,
          at: cause.at, erase_at: cause.at + (DAYS * 86_400)
        )
      end

      def hang(id, hanging, cause)
        hanging["notes"].each do |note|
          row = note.to_h { |name, value| [name.to_sym, (value && name.end_with?("at")) ? Time.iso8601(value) : value] }
          db[:interactions].insert(row)
          root.search_words.note_changed(nil, row)
        end
        links = merged_on(hanging["links"])
        there = db[:records].where(id: links.flat_map { |link| ends(link) }.uniq).select_map(:id)
        links.select { |link| (ends(link) - there).empty? }.each do |link|
          db[:links].insert_ignore.insert(link.transform_keys(&:to_sym))
        end
        root.links.lead_to(id)
        hanging["tasks"].each { |task| root.tasks_by_rule.open_again(task, cause:) }
        root.copies.wake(hanging["copies"].to_a)
        hanging["entries"].to_a.each { |entry| put_back(entry, cause:) if find(entry) }
      end

      def merged_on(links)
        became = root.merges.became(links.flat_map { |link| ends(link) }.uniq)
        links.map { |link| link.merge(link.slice(*ENDS).transform_values { |id| became.fetch(id, id) }) }
      end

      # What it led to may have been merged with another in the meantime.
      def led_on(type, image)
        keys = type.links.map(&:key)
        became = root.merges.became(image.values_at(*keys).compact)
        image.merge(image.slice(*keys).transform_values { |id| became.fetch(id, id) })
      end

      ENDS = %w[record_id target_id].freeze
      private_constant :ENDS
      def ends(link) = link.values_at(*ENDS)
    end
  end
end
