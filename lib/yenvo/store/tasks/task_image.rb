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
        open = TaskColumns::OPEN.include?(row[:state]) ? row[:state] : "open"
        image = {
          "id" => row[:id], **TaskColumns.seen(row), "stage" => over ? row[:state] : open, "open" => !over,
          "late" => !over && row[:due_at] <= at, "assignee" => row[:assignee], "queue" => row[:queue],
          "team" => row[:team], "late_from" => row[:due_on] && Core::Reading.moment(row[:due_at]),
          "record" => row[:record_id], "part" => !row[:parent_id].nil?, "made" => Core::Reading.moment(row[:made_at])
        }
        image.update(ended(row)) if over
        image.compact
      end

      def ended(row)
        {
          "answer" => row[:answer], "note" => row[:note], "done_by" => row[:done_by],
          "done" => Core::Reading.moment(row[:done_at]), "took" => row[:took_minutes]
        }
      end
    end
  end
end
