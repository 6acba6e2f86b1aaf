# frozen_string_literal: true

module Yenvo
  module Store
    # What happened to a record, newest first, in words (Core::Story).
    class History < Base
      PAGE = 40

      # @param before [Integer, nil] number of an entry to go on from
      # @return [Array<Hash>] id, at, who, what, changes (label, from, to), detail, run, runs
      def of_record(id, before: nil, limit: PAGE)
        found = db[:journal].where(record_id: id).reverse(:id).limit(limit)
        found = found.where { Sequel[:id] < before } if before
        present(found.all)
      end

      # @return [Array<Hash>] the steps of a task
      def of_task(id, limit: PAGE) = present(db[:journal].where(task_id: id).reverse(:id).limit(limit).all)

      # @param rows [Array<Hash>] of the journal
      # @return [Array<Core::Story>]
      def stories(rows) = present(rows).map { |entry| Core::Story.new(root.schema, entry) }

      # @param rows [Array<Hash>] of the journal
      # @return [Array<Hash>] plain values for people; words: pieces of Core::Story
      def present(rows)
        schema = root.schema
        images = rows.map { |row| [load(row[:before]), load(row[:after])] }
        titles = root.records.titles(linked_ids(rows, images, schema)).transform_values { |row| row[:title] }
        runs = root.runs.of_entries(rows.map { |row| row[:id] })
        rows.zip(images)
          .map { |row, (before, after)| entry(row, before, after, schema, titles, runs.fetch(row[:id], [])) }
      end

      private

      def entry(row, before, after, schema, titles, runs)
        entry = {
          **NAMES.to_h { |name, column| [name, row[column]] },
          "at" => Core::Reading.moment(row[:at]), "detail" => said(row),
          "changes" => (before && after) ? changes(row, before, after, schema, titles) : [],
          "runs" => runs.map { |run| run.slice(:id, :rule_id, :state, :branches).transform_keys(&:to_s) }
        }
        entry.merge("words" => Core::Story.new(schema, entry).pieces)
      end
      NAMES = {
        "id" => :id, "kind" => :kind, "who" => :who, "what" => :what, "task_id" => :task_id, "record_id" => :record_id,
        "run" => :cause_run, "rule" => :cause_rule
      }.freeze
      private_constant :NAMES

      # Of a timer only what people read of it: what a wait remembers is for the worker.
      def said(row)
        detail = load(row[:detail]) || {}
        if row[:what] == "timer_fired"
          detail.slice("rule", "name", "timer", "due", "late").merge("title" => detail.dig("task", "title")).compact
        else
          detail
        end
      end

      def changes(row, before, after, schema, titles)
        type = schema.kind(row[:kind])
        keys = (before.keys | after.keys) - Core::Schema::Kind::KEPT_BY_YENVO
        keys.select { |key| before[key] != after[key] && type&.field(key) }
          .map do |key|
            field = type.field(key)
            {
              "field" => key, "label" => field.label, "from" => Core::Show.value(field, before[key], schema, titles),
              "to" => Core::Show.value(field, after[key], schema, titles)
            }
          end
      end

      def linked_ids(rows, images, schema)
        rows.zip(images).flat_map do |row, pair|
          type = schema.kind(row[:kind]) or next []
          fields = type.fields.each_value.select { |field| field.type == "link" }
          pair.compact.flat_map { |image| fields.map { |field| image[field.key] } }
        end
      end
    end
  end
end
