# frozen_string_literal: true

module Yenvo
  module Core
    # When the timer of a rule is due for a record or a task. A timing is pure: the same facts give the same moment; who
    # keeps timers asks it again whenever something it looks at has changed.
    module Timing
      # @param rule [CompiledRule]
      # @return [Timing::Base, nil] nil for a rule that only events wake
      def self.of(rule)
        return rule.trigger.timing(rule) if rule.trigger.timer?

        ByDay.new(rule) if rule.trigger.daily? && rule.leaves.any?(&:day?)
      end
    end
  end
end
