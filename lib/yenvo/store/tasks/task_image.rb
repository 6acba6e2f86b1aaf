# frozen_string_literal: true

module Yenvo
  module Store
    # A task as a plain Hash, fit for the fields of Core::Schema::TaskKind.
    module TaskImage
      module_function

      # @param row [Hash] of tasks
      # @param at [Time] the moment at which it is looked at
      # @return [Hash{String => Object}]
      def of(row, at)
        over = row[:done_at] && row[:done_at] <= at
        state = if over
          row[:state]
        else
          (TaskColumns::OPEN.include?(row[:state]) ? row[:state] : "open")
        end
        {
          "id" => row[:id], **TaskColumns.seen(row), "stage" => state, "open" => !over,
          "late" => !over && row[:due_at] <= at, "assignee" => row[:assignee], "queue" => row[:queue],
          "team" => row[:team], "late_from" => row[:due_on] && Core::Reading.moment(row[:due_at]),
          "record" => row[:record_id], "answer" => over ? row[:answer] : nil, "note" => over ? row[:note] : nil,
          "done_by" => over ? row[:done_by] : nil, "part" => !row[:parent_id].nil?,
          "made" => Core::Reading.moment(row[:made_at]), "done" => over ? Core::Reading.moment(row[:done_at]) : nil,
          "took" => over ? row[:took_minutes] : nil
        }.compact
      end
    end
  end
end
