# frozen_string_literal: true

module Yenvo
  module Store
    # Which record leads to which: link fields (kept in step with the fields) and plain links that people draw.
    class Links < Base
      keeps :links

      LINKED = "linked"
      # Keeps the rows of link fields in step with a record, and tells the records to which it leads now.
      # @param entry [Integer] number of the entry that made or changed it
      # @param cause [Journal::Cause]
      def record_changed(type, before, after, entry, cause)
        type.fields.each_value do |field|
          next if field.type != "link" || before[field.key] == after[field.key]

          drop(after["id"], field.key, entry) if before[field.key]
          next unless after[field.key] && !gone?(before, after, field)

          table.insert(row(after, field, entry))
          tell_all(type, field, [after], cause)
        end
      end

      # Draws what other records' fields lead to a record that is back.
      def lead_to(id)
        fields = fields_that_lead
        at = Sequel[:record_index]
        found = db[:record_index].where(at[:num] => id, at[:empty] => false, [at[:kind], at[:field]] => fields)
          .join(:records, id: at[:record_id]).select(at[:record_id], at[:field], id, Sequel[:records][:entry_id])
        table.insert_ignore.insert(%i[record_id field target_id entry_id], found)
      end

      def fields_that_lead = schema.kinds.values.flat_map { |type| type.links.map { |field| [type.key, field.key] } }
      private :fields_that_lead

      # Many that were made at one go.
      def records_made(type, images, entries, cause)
        type.fields.values.select { |field| field.type == "link" }.each do |field|
          leading = images.zip(entries).select { |image, _| image[field.key] }
          table.multi_insert(leading.map { |image, entry| row(image, field, entry) })
          tell_all(type, field, leading.map(&:first), cause)
        end
      end

      # A record that comes back may lead to one that has been taken away in the meantime.
      def gone?(before, after, field) = before.empty? && after["version"] > 1 && !there?(after[field.key])
      def there?(id) = !db[:records].where(id:).empty?
      private :gone?, :there?

      # All links of a record that is taken away.
      def record_gone(_type, image, entry, _cause) =
        table.where(record_id: image["id"]).exclude(field: "").select_map(:field)
          .each { |field| drop(image["id"], field, entry) }

      # Draws a plain link between two records; one that is there already stays.
      # @raise [Refused]
      def add(one_id, other_id, cause:)
        refuse("target", "A record cannot be linked to itself; choose another.") if one_id == other_id

        root.transaction do
          rows = [one_id, other_id].sort.to_h { |id| [id, root.records.lock(id)] }
          drawn = table.insert_ignore.insert_sql(record_id: one_id, field: "", target_id: other_id)
          next if table.with_sql_update(drawn).zero?

          linked(rows[one_id], rows[other_id], cause)
          linked(rows[other_id], rows[one_id], cause)
        end
      end

      # Takes a plain link away again; link fields are emptied on the record instead.
      # @raise [NotFound]
      def remove(one_id, other_id, cause:)
        root.transaction do
          rows = [one_id, other_id].sort.map { |id| root.records.lock(id) }
          ends = [{record_id: one_id, target_id: other_id}, {record_id: other_id, target_id: one_id}]
          if table.where(Sequel.|(*ends)).where(field: "").delete.zero?
            raise NotFound,
              "These two are not linked by hand; the link may be gone already, or it is a field of one of them."
          end

          rows.zip(rows.reverse) { |row, other| root.journal.add_about("unlinked", cause, row, pointing_to(other)) }
        end
      end

      PAGE = 50

      # @param sight [Sight] of who asks
      # @param after [Integer, nil] id to go on from
      # @return [Array<Hash>] records that lead to this one or that are plainly linked with it: id, title, kind, stage,
      #   field
      def around(id, sight: Sight.new(root, nil), after: nil, limit: PAGE)
        at = Sequel[:records]
        sides(id)
          .flat_map do |links, way|
            found = links.join(:records, id: way).where(sight.anywhere).order(at[:id], :field).limit(limit)
            (after ? found.where { at[:id] > after } : found).select(at[:id], :title, :kind, :stage, :field).all
          end
          .uniq { |row| row.values_at(:id, :field) }.sort_by { |row| row.values_at(:id, :field) }.first(limit)
      end

      # @return [Integer] how many those are
      def count_around(id, sight: Sight.new(root, nil)) =
        sides(id).sum { |links, way|
          sight.all? ? links.count : links.join(:records, id: way).where(sight.anywhere).count
        }

      private

      def sides(id) =
        [[table.where(target_id: id), :record_id], [table.where(record_id: id, field: ""), :target_id]]

      def drop(record_id, field, entry)
        table.where(record_id:, field:).select_map(%i[target_id entry_id])
          .each do |target, from|
            db[:past_links].insert(
              record_id:, field:, target_id: target, from_entry: from, to_entry: entry
            )
          end
        table.where(record_id:, field:).delete
      end

      # What is linked to a record by a field of the other is an event of this one; for the entry of a list, it was put
      # on it.
      def tell_all(type, field, images, cause)
        targets = root.records.images(images.map { |image| image[field.key] })
        on_list = type.list && field.key == Core::Schema::Kind::ABOUT
        images.group_by { |image| targets.fetch(image[field.key])["kind"] }.each do |kind, some|
          rows = some.map do |image|
            target = targets.fetch(image[field.key]).except("kind")
            {record_id: target["id"], before: target, after: target, detail: said(type, field, image, on_list)}
          end
          root.journal.add_each(on_list ? "put_on_list" : LINKED, cause, kind, rows)
        end
      end

      def said(type, field, image, on_list)
        detail = {"record" => image["id"], "kind" => type.key, "title" => image["title"], "field" => field.key}
        on_list ? detail.merge("list" => type.list) : detail
      end

      def row(image, field, entry) =
        {record_id: image["id"], field: field.key, target_id: image[field.key], entry_id: entry}

      def linked(row, other, cause)
        root.journal.add_about(LINKED, cause, row, pointing_to(other), image: Image.of(row))
      end

      def pointing_to(row) = {"record" => row[:id], "kind" => row[:kind], "title" => row[:title]}
    end
  end
end
