# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # For actions that stand behind one that makes a task: which task it is, "on".
      module OnTask
        private

        # @return [String, Integer] "this" for the task of the event, or the number of the action that makes it
        def on
          return "this" if settings["on"] == "this" || (settings["on"].nil? && @place.tasks.empty?)

          settings["on"] ? settings["on"].to_i : @place.tasks.last
        end

        def check_on
          named = settings["on"]
          return wrong("on", NO_SUCH) unless named.nil? || named == "this" || @place.tasks.include?(named.to_i)

          wrong("on", NONE) if on == "this" && !@place.watches_task
        end

        NO_SUCH =
          "must be the number of an earlier action of this branch that makes a task, or this for the task of the event"
        NONE =
          "must stand behind an action that makes a task; there is none before it, and the trigger watches no tasks"
        private_constant :NO_SUCH, :NONE
      end
    end
  end
end
