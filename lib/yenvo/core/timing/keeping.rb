# frozen_string_literal: true

module Yenvo
  module Core
    module Timing
      # What is kept of a timer: due (when it fires, nil for never as things stand), look (only to look again then),
      # since (from when it counts), fired_for (the last moment for which it fired), held (when it would have fired
      # while its rule was paused). A pure function says what comes of it when something has happened.
      Keeping =
        Value.define(:due, :look, :since, :fired_for, :held) do
          # @param facts [Facts] the record now; its event's moment is the moment of looking
          # @param kept [Keeping, nil] what was kept before
          # @param since [Time, nil] when its time begins to count anew, if it does
          # @param past [String, nil] when the timers of a new version are built: "fire" or "skip" what is past already
          # @return [Keeping, nil] nil when there is nothing to keep
          def self.of(timing, facts, kept:, since: nil, past: nil)
            return unless timing.stands?(facts)

            at = facts.event.at
            since = past ? [since, timing.since(facts)].compact.max : since || kept&.since || timing.since(facts)
            due, look = timing.due(facts, since:)
            # A silence that was over before the record came into its rule counts from now on.
            due, look = timing.due(facts, since: since = at) if due && due <= at && kept.nil? && past.nil? &&
              timing.since(facts)
            due, look = kept.due, false if kept && timing.overdue?(kept, facts)
            due = nil if due && !comes?(due, at, kept, past)
            return if due.nil? && since.nil? && kept&.fired_for.nil?

            held = !due.nil? && kept&.held == due
            new(
              due: held ? nil : due, look: look == true, since:, fired_for: kept&.fired_for,
              held: held ? due : nil
            )
          end

          # A moment that is past fires only when it was waited for. None fires twice.
          def self.comes?(due, at, kept, past)
            return false if kept && kept.fired_for == due

            due > at || past == "fire" || (kept && (kept.due == due || kept.held == due)) || false
          end
          private_class_method :comes?
        end
    end
  end
end
