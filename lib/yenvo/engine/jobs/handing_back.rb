# frozen_string_literal: true

module Yenvo
  module Engine
    # Gives back what was handed over to others, to whom it belonged before; not what somebody has changed since.
    class HandingBack
      include StepByStep

      BIT = 100

      # @param job [Hash] row
      # @return [Integer] things looked at
      def bit(job, now)
        filter = JSON.parse(job[:filter])
        after = job[:place] ? JSON.parse(job[:place])["id"] : 0
        rows = @root.db[:handed_over].where(job_id: filter["jobs"]).where { id > after }.order(:id).limit(BIT).all
        cause = Store::Journal::Cause.person(job[:by], now)
        back = rows.count { |row| moved? { still?(row) && change(row, filter["person"], cause) } }
        place = (rows.size == BIT) ? {"id" => rows.last[:id]} : nil
        @root.jobs.progress(job, looked_at: rows.size, started: back, place:, now:)
        rows.size
      end

      private

      # Whether it still stands as it was handed over.
      def still?(row)
        case row[:what]
        when "records", "fields" then @root.records.images([row[:ref]])[row[:ref]]&.fetch(row[:field],
          nil) == row[:person]
        when "tasks"
          held = {open: true, assignee: row[:person]}
          held[:queue] = row[:queue] if row[:queue]
          !@root.task_rows.about_id(row[:ref]).where(held).empty?
        else
          table, column = Store::HandOver::OWNED.fetch(row[:what])
          !@root.db[table].where(:id => row[:ref], column => row[:person]).empty?
        end
      end

      def change(row, person, cause)
        case row[:what]
        when "records", "fields" then @root.records.change(row[:ref], {row[:field] => person}, cause:)
        when "tasks" then @root.tasks.pass_on(row[:ref], assignee: person, quiet: true, cause:)
        else
          table, column = Store::HandOver::OWNED.fetch(row[:what])
          @root.db[table].where(id: row[:ref]).update(column => person)
        end
        true
      end
    end
  end
end
