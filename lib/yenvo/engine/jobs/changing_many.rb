# frozen_string_literal: true

module Yenvo
  module Engine
    # Changes many records together, or takes that back, bit by bit; what is refused for one leaves the others alone,
    # and the reason is kept. Rules meet each change.
    class ChangingMany
      BIT = 100

      # @param root [Store::Root]
      # @param undo [Boolean] whether it takes back what was done
      def initialize(root, undo: false)
        @root = root
        @undo = undo
      end

      # @param job [Hash] row
      # @return [Integer] records looked at
      def bit(job, now)
        change = @root.bulk_changes.find!(JSON.parse(job[:filter])["bulk"])
        work = @undo ? undoing(change, cause(job, now)) : doing(change, cause(job, now))
        rows = next_rows(change)
        done = rows.count { |row| one(row, &work) }
        go_on(job, change, rows, done, now)
        rows.size
      end

      private

      def cause(job, now) = Store::Journal::Cause.person(job[:by], now).with(unheard: @undo)

      # The last first, when it is taken back.
      def next_rows(change)
        rows = @root.bulk_changes.rows(change[:id]).limit(BIT)
        (@undo ? rows.where(state: "changed").reverse(:record_id) : rows.where(state: "waiting").order(:record_id)).all
      end

      def doing(change, cause)
        raise Core::Error, GONE unless @root.schema.person(change[:by])&.active

        doing = Store::BulkDoing.again(@root, Store::Sight.new(@root, change[:by]), change)
        ->(row) do
          done = doing.to(row[:record_id], cause:)
          done.same ? {state: "same"} : {state: "changed", did: JSON.generate(done.did)}
        end
      end
      GONE = "Whoever began this does not work here any more."
      private_constant :GONE

      def undoing(change, cause)
        undoing = Store::BulkUndoing.new(@root)
        ->(row) { {state: undoing.take_back(change, row, cause:) ? "back" : "stayed"} }
      end

      # @return [Boolean] whether anything was done
      def one(row)
        columns = @root.db.transaction(savepoint: true) { yield(row) }
        write(row, columns)
        %w[changed back].include?(columns[:state])
      rescue *StepByStep::REFUSALS => error
        write(row, {state: @undo ? "stayed" : "refused", reason: error.message[0, 500]})
        false
      end

      def write(row, columns) =
        @root.bulk_changes.rows(row[:bulk_id]).where(record_id: row[:record_id]).update(columns)

      def go_on(job, change, rows, done, now)
        over = rows.size < BIT
        place = over ? nil : {"record" => rows.last[:record_id]}
        @root.jobs.progress(job, looked_at: rows.size, started: done, place:, now:)
        return unless over

        @root.db[:bulk_changes].where(id: change[:id]).update(state: @undo ? "undone" : "done", ended_at: now)
      end
    end
  end
end
