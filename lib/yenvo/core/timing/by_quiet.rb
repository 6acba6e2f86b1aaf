# frozen_string_literal: true

module Yenvo
  module Core
    module Timing
      # So long after the last thing that happened.
      class ByQuiet < Base
        def initialize(rule, trigger)
          @trigger = trigger
          @calendar = rule.schema.calendar
          super(rule, task: trigger.task?)
        end

        def name = "quiet"

        def touched?(event) = super || restarts?(event)
        def restarts?(event) = @trigger.stirs?(event)
        def task_events = @trigger.kinds.include?("task_done") ? (super + ["task_done"]).uniq : super

        def due(facts, since:)
          since && [moment(since), false]
        end

        # The stamps that a record carries; what else is known of its past is for the store to say.
        def since(facts)
          return (made = facts.event.detail.dig("task", "made")) && Time.iso8601(made) if per == :task

          image = facts.after
          # Stamps do not tell who it was.
          return Time.iso8601(image["made"]) if @trigger.people?

          stamps = [image["made"]]
          stamps << image["last_contact"] if @trigger.kinds.include?("contact")
          stamps << image["stage_since"] if @trigger.kinds.include?("stage")
          stamps.concat(changes(image)) if @trigger.kinds.include?("change")
          stamps.compact.max&.then { |stamp| Time.iso8601(stamp) }
        end

        # @return [QuietTimer]
        attr_reader :trigger

        private

        def changes(image)
          known = image["since"] || {}
          @trigger.fields.empty? ? known.values : known.values_at(*@trigger.fields)
        end

        def moment(since)
          span = @trigger.span
          return span.moment(since, 1, @calendar) unless @trigger.minutes

          @calendar.zone.at(span.day(@calendar.date_of(since), 1, @calendar), @trigger.minutes)
        end
      end
    end
  end
end
