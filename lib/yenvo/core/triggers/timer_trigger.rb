# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # The base of triggers that nobody pulls: time does. A timer is addressed to its rule, so no index of rules finds
      # it; when each timer is due is what its Timing says.
      class TimerTrigger < Trigger
        def self.short = "timer"
        def self.of_tasks? = true

        def timer? = true

        # @return [Boolean] whether each task has a timer of its own, instead of the record
        def task? = settings["task"] == true || kind.task?

        def what = "timer_fired"
        def watch_keys = []
        def sample_detail = {"timer" => timer_name}

        def to_proc
          name = timer_name
          ->(facts) { facts.event.what == "timer_fired" && facts.event.detail["timer"] == name }
        end

        # @return [Timing]
        def timing(_rule) = raise(NotImplementedError)

        def imagine(image) = [image, image]

        # Only an open task has a timer.
        def imagine_task(task) = (task["open"] == false) ? nil : {**sample_detail, "task" => task}

        def miss(facts) = (facts.event.what == "timer_fired") ? "It was another timer" : "Its timer did not come due"

        private

        # @return [String] what the journal calls such a timer
        def timer_name = raise(NotImplementedError)
      end
    end
  end
end
