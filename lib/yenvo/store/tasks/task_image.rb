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
          (Tasks::OPEN.include?(row[:state]) ? row[:state] : "open")
        end
        {
          "id" => row[:id], "title" => row[:title], "stage" => state, "open" => !over,
          "late" => !over && row[:due_at] <= at, "priority" => Tasks::PRIORITIES[row[:priority]], "way" => row[:way],
          "assignee" => row[:assignee], "queue" => row[:queue], "team" => row[:team], "due" => row[:due_on]&.iso8601,
          "late_from" => row[:due_on] && Core::Reading.moment(row[:due_at]), "start" => row[:start_on]&.iso8601,
          "remind" => row[:remind_at] && Core::Reading.moment(row[:remind_at]), "record" => row[:record_id],
          "answer" => over ? row[:answer] : nil, "note" => over ? row[:note] : nil, "text" => row[:text],
          "done_by" => over ? row[:done_by] : nil, "part" => !row[:parent_id].nil?,
          "made" => Core::Reading.moment(row[:made_at]), "done" => over ? Core::Reading.moment(row[:done_at]) : nil,
          "took" => over ? row[:took_minutes] : nil
        }.compact
      end
    end
  end
end
