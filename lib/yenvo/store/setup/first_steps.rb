# frozen_string_literal: true

module Yenvo
  module Store
    # What a new house still lacks before its rules carry the day. Each step is told from what is true, so nobody ticks
    # anything.
    class FirstSteps < Base
      AWAY = "first_steps_away"

      # @return [Hash{String => Boolean}] by step, in order, whether it is done
      def all
        {
          "people" => db[:people].limit(2).count > 1, "records" => any?(:records),
          "rule" => any?(:rule_versions), "task" => root.task_rows.any_done?
        }
      end

      # @return [Boolean] whether somebody has put them away
      def away? = root.setup_store.setting(AWAY, false)

      def put_away = root.setup_store.set(AWAY, true)

      private

      def any?(table) = !db[table].empty?
    end
  end
end
