# frozen_string_literal: true

module Yenvo
  module Store
    # What happened to a record, newest first, in words (Core::Story).
    class History < Base
      PAGE = 40
      # Entries that name another record.
      NAMING = %w[linked unlinked put_on_list merged_away].freeze
      NAMED =
        Sequel.lit(
          "CAST(COALESCE(JSON_VALUE(`journal`.`detail`, '$.record'), JSON_VALUE(`journal`.`detail`, '$.target')) AS " \
          "INTEGER)"
        )
      WITHOUT = JSON.generate("title" => "something that is not for you to see").freeze
      private_constant :NAMING, :NAMED, :WITHOUT

      # @param sight [Sight] of who asks
      def initialize(root, sight = Sight.new(root, nil))
        super(root)
        @sight = sight
      end

      # What happened to records that were merged into it is its own.
      # @param before [Integer, nil] number of an entry to go on from
      # @return [Array<Hash>] id, at, who, what, changes (label, from, to), detail, run, runs; messages: entries like
      #   these, of what the runs wrote that met it
      def of_record(id, before: nil, limit: PAGE)
        found = seen(db[:journal].where(record_id: root.merges.with([id])).reverse(:id).limit(limit))
        found = found.where { Sequel[:id] < before } if before
        with_messages(present(found.all))
      end

      # @param entries [Array<Hash>]
      def with_messages(entries)
        written = root.outbox.of_runs(entries.flat_map { |entry| entry["runs"].map { |run| run["id"] } })
        entries.map do |entry|
          rows = entry["runs"].flat_map { |run| written.fetch(run["id"], []) }
          entry.merge("messages" => rows.map { |row| message(row, entry["kind"]) })
        end
      end
      private :with_messages

      # @param row [Hash] of the outbox
      def message(row, kind)
        said = {
          id: row[:id], kind:, record_id: row[:record_id], what: "message_written", at: row[:made_at],
          cause_run: row[:run_id], cause_rule: row[:rule_id],
          detail: dump("text" => row[:words], "delivery" => row[:id], "state" => Outbox.fares(row))
        }
        entry(said, nil, nil, @sight.access.schema, {}, [])
      end
      private :message

      # @param rows [Sequel::Dataset] of the journal
      # @return [Sequel::Dataset] without those that name a record that is not seen
      def seen(rows)
        return rows if @sight.all?

        rows.where(Sequel.|(Sequel.~(what: NAMING), @sight.leading(NAMED)))
      end
      private :seen

      # @return [Array<Hash>] the steps of a task
      def of_task(id, limit: PAGE) = present(db[:journal].where(task_id: id).reverse(:id).limit(limit).all)

      # @param rows [Array<Hash>] of the journal
      # @return [Array<Core::Story>]
      def stories(rows) = present(rows).map { |entry| Core::Story.new(@sight.access.schema, entry) }

      # @param rows [Array<Hash>] of the journal
      # @return [Array<Hash>] plain values for people; words: pieces of Core::Story
      def present(rows)
        schema = @sight.access.schema
        images = rows.map { |row| [load(row[:before]), load(row[:after])] }
        titles = @sight.titles(linked_ids(rows, images, schema)).transform_values { |row| row[:title] }
        runs = root.runs.of_entries(rows.map { |row| row[:id] })
        rows = with_fares(unnamed(rows))
        rows.zip(images)
          .map { |row, (before, after)| entry(row, before, after, schema, titles, runs.fetch(row[:id], [])) }
      end

      # @param rows [Array<Hash>]
      # @return [Array<Hash>] those of messages with how these fare
      def with_fares(rows)
        sent = rows.select { |row| row[:what] == "message_written" }.to_h { |row| [row[:id], load(row[:detail])] }
        states = root.outbox.states(sent.values.map { |detail| detail["delivery"] })
        rows.map do |row|
          detail = sent[row[:id]] or next row
          row.merge(detail: dump(detail.merge("state" => states[detail["delivery"]])))
        end
      end
      private :with_fares

      # What happened to a record may name another; where that is hidden, it stays without a name.
      # @param rows [Array<Hash>]
      # @return [Array<Hash>]
      def unnamed(rows)
        return rows if @sight.all?

        named = rows.to_h { |row| [row, other(row)] }
        seen = @sight.about(named.values.compact.map { |id| {record_id: id} }).to_set { |one| one[:record_id] }
        rows.map { |row| (named[row].nil? || seen.include?(named[row])) ? row : row.merge(detail: WITHOUT) }
      end
      private :unnamed

      # @return [Integer, nil] the record that an entry names
      def other(row) =
        NAMING.include?(row[:what]) ? load(row[:detail]).to_h.values_at("record", "target").compact[0] : nil
      private :other

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
        detail["rules"]&.each { |rule| rule["words"].map! { |words| @sight.access.veil(words) } }
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
