# frozen_string_literal: true

module Yenvo
  module Core
    module Timing
      # So long before or after a date.
      class ByDate < Base
        def initialize(rule, trigger)
          @date = trigger.date
          super(rule, needs: trigger.date.needs, task: trigger.task?)
        end

        def name = "date"

        def due(facts, since: nil)
          moment = @date.moment((per == :task && !rule.kind.task?) ? about_task(facts) : facts, now: facts.event.at)
          moment && [moment, false]
        end

        def touched?(event) = super || (moving_keys.empty? && per == :record && event.what == "record_changed")

        private

        # A task is looked at as if it were a record.
        def about_task(facts)
          event = facts.event
          Facts.new(
            Event.new(
              id: nil, what: event.what, kind: "task", record_id: event.record_id, before: nil,
              after: event.detail["task"] || {}, who: nil, at: event.at
            )
          )
        end

        # A date that is worked out or linked may move with any field.
        def moving_keys =
          @moving_keys ||= (per == :record && @date.reference.stored?) ? [@date.reference.field.key] : []
      end
    end
  end
end
