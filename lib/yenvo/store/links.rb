# frozen_string_literal: true

module Yenvo
  module Store
    # Which record leads to which: link fields (kept in step with the fields) and plain links that people draw.
    class Links < Part
      # Keeps the rows of link fields in step with a record.
      def follow(type, before, after)
        type.fields.each_value do |field|
          next if field.type != "link" || before[field.key] == after[field.key]

          db[:links].where(record_id: after["id"], field: field.key).delete if before[field.key]
          db[:links].insert(record_id: after["id"], field: field.key, target_id: after[field.key]) if after[field.key]
        end
      end

      # Draws a plain link between two records; one that is there already stays.
      # @raise [Refused]
      def add(one_id, other_id, cause:)
        raise Refused.at("target" => "A record cannot be linked to itself; choose another.") if one_id == other_id

        root.transaction do
          rows = [one_id, other_id].sort.to_h { |id| [id, root.records.lock(id)] }
          drawn = db[:links].insert_ignore.insert_sql(record_id: one_id, field: "", target_id: other_id)
          next if db[:links].with_sql_update(drawn).zero?

          root.journal.add("linked", cause, record_id: one_id, kind: rows[one_id][:kind], detail: {"target" => other_id, "title" => rows[other_id][:title]})
          root.journal.add("linked", cause, record_id: other_id, kind: rows[other_id][:kind], detail: {"target" => one_id, "title" => rows[one_id][:title]})
        end
      end

      # @return [Array<Hash>] records that lead to this one or that are plainly linked with it: id, title, kind, field
      def around(id, limit: 100)
        inward = db[:links].where(target_id: id).join(:records, id: :record_id).select(Sequel[:records][:id], :title, :kind, :field)
        outward = db[:links].where(record_id: id, field: "").join(:records, id: :target_id).select(Sequel[:records][:id], :title, :kind, :field)
        inward.union(outward, all: true, from_self: false).limit(limit).all.uniq { |row| [row[:id], row[:field]] }
      end
    end
  end
end
