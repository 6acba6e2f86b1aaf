# frozen_string_literal: true

module Yenvo
  module Engine
    # Takes back what a table wrote, the last first: what it made is gone, what it changed is as it was; but for what
    # somebody has changed since, which stays. No rule meets it.
    class TakingTableBack
      include TableWork
      include StepByStep

      BIT = 100

      # @param job [Hash] row
      # @return [Integer] rows looked at
      def bit(job, now)
        import = import(job)
        rows = @root.imports.written(import[:id]).reverse(:line).limit(BIT).all
        cause = Store::Journal::Cause.person(job[:by], now).with(unheard: true)
        back = rows.count { |row| moved? { taken_back?(row, cause) } }
        db[:import_rows].where(import_id: import[:id], line: rows.map { |row| row[:line] }).delete
        kept = JSON.parse(import[:written])
        kept["back"] = kept["back"].to_i + back
        kept["stayed"] = kept["stayed"].to_i + rows.size - back
        over = rows.size < BIT
        @root.jobs.progress(job, looked_at: rows.size, started: back, place: over ? nil : {"line" => rows.last[:line]},
          now:)
        ended = over ? {state: "undone", ended_at: now} : {}
        db[:imports].where(id: import[:id]).update(written: JSON.generate(kept), **ended)
        rows.size
      end

      private

      def taken_back?(row, cause)
        record = @root.records.lock(row[:record_id])
        row[:changed] ? set_back?(row, JSON.parse(row[:changed]), cause) : gone?(row, record, cause)
      end

      # What people have hung on it since is theirs: notes, links, places on lists.
      HUNG = %i[notes links lists].freeze
      private_constant :HUNG

      def gone?(row, record, cause)
        return false unless record[:version] == row[:version]
        return false if @root.trash.hanging(record[:id]).values_at(*HUNG).any?(&:positive?)

        @root.trash.take_away(record, "record_removed", "The table it came with was taken back.", cause:)
        @root.trash.forget(record[:id])
        true
      end

      # Each field that still is as the table had it.
      def set_back?(row, changed, cause)
        image = @root.records.find!(row[:record_id])
        keys = changed["keys"].select { |key| image[key] == changed["is"][key] }
        return false if keys.empty?

        @root.records.change(row[:record_id], keys.to_h { |key| [key, changed["was"][key]] }, cause:)
        keys.size == changed["keys"].size
      end
    end
  end
end
