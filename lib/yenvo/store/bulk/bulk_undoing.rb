# frozen_string_literal: true

module Yenvo
  module Store
    # Takes back what was done with one of many records, and first what rules made of it: tasks, changes, timers. What
    # people have changed since stays.
    class BulkUndoing < Base
      # @param change [Hash] row of the table bulk_changes
      # @param row [Hash] of the record
      # @return [Boolean] whether all of it was taken back
      # @raise [Refused, NotFound]
      def take_back(change, row, cause:)
        did = load(row[:did] || "{}")
        runs = db[:runs].where(entry_id: did["entries"].to_a, state: "ran").all
        stayed = root.undo.run(runs, cause:).reject(&:back)
        send(:"undo_#{change[:what]}", row[:record_id], did, cause) && stayed.empty?
      end

      private

      # Each field that still is as it was set.
      def undo_set(record, did, cause)
        image = Image.of(root.records.lock(record))
        still = did["is"].select { |key, value| image[key] == value }.keys
        return false if still.empty?

        root.records.set_back(record, did["was"].slice(*still), cause:)
        still.size == did["is"].size
      end

      def undo_list(_record, did, cause)
        root.list_entries.take_off(did["entry"], cause:)
        true
      end

      # What the rule did was taken back before; there is nothing else.
      def undo_rule(_record, _did, _cause) = true

      def undo_trash(record, _did, cause)
        root.trash.put_back(record, cause:)
        true
      end
      alias_method :undo_take_off, :undo_trash
    end
  end
end
