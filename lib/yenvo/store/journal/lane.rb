# frozen_string_literal: true

module Yenvo
  module Store
    # What happens to one record is met in order, one thing after the other. So is what happens to a task that is about
    # no record: it has a lane of its own, a number below zero, where a record has its id.
    module Lane
      module_function

      # @param record_id [Integer, nil]
      # @param task_id [Integer, nil]
      # @return [Integer] 0 for what is about neither
      def of(record_id, task_id) = record_id || -(task_id || 0)

      # @return [Integer, nil] the record of a lane
      def record(lane) = lane.positive? ? lane : nil
    end
  end
end
