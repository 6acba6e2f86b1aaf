# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # One step of a ladder as it is written. after: DateRule that counts from due (the task's due date), made (when
      # the task was made) or now (the step before); does: one of DOES; priority: for "raise", one level up when not
      # given; assign, fallback: for "pass_on"; text: what the notice says, or why it is dropped, or nil.
      LadderStep =
        Value.define(:after, :does, priority: nil, assign: nil, fallback: nil, text: nil) do
          # @return [Hash] as in a rule file
          def to_h =
            {
              "after" => after.to_h, "do" => does, "priority" => priority, "assign" => assign, "fallback" => fallback,
              "text" => text
            }.compact
        end

      LadderStep::DOES = %w[remind raise pass_on drop].freeze
      LadderStep::MOST = 12
    end
  end
end
