# frozen_string_literal: true

module Yenvo
  module Store
    # Since when nothing has happened, for quiet timers that are built for records of which no timer was kept.
    class Silences < Base
      EVENTS = %w[record_made record_changed interaction_logged task_done].freeze

      # @param trigger [Core::Triggers::QuietTimer]
      # @param places [Array<Array(Integer, Integer)>] record and task (0 for the record itself)
      # @return [Hash{Array => Time}] where the stamps of the record do not say it
      def since(trigger, places)
        return of_tasks(trigger, places) if trigger.task?
        return {} unless trigger.people? || (trigger.kinds & %w[note task_done]).any?

        rows = db[:journal].where(record_id: places.map(&:first), what: EVENTS)
        rows = rows.exclude(who: nil) if trigger.people?
        latest(trigger, rows.order(:id).all)
      end

      private

      def of_tasks(trigger, places)
        rows = db[:journal].where(task_id: places.map(&:last))
        rows = rows.exclude(who: nil) if trigger.people?
        rows.exclude(what: "task_late").group(:record_id, :task_id)
          .select_map([:record_id, :task_id, Sequel.function(:max, :at)])
          .to_h { |record, task, at| [[Lane.of(record, task), task], at] }
      end

      # The last entry of each record that ends a silence.
      def latest(trigger, rows)
        rows.each_with_object({}) do |row, found|
          found[[row[:record_id], 0]] = row[:at] if trigger.stirs?(root.journal.event(row))
        end
      end
    end
  end
end
