# frozen_string_literal: true

module Yenvo
  module Engine
    # A schedule whose day has come, for each record that meets its conditions then. What it finds stands in the journal
    # and is met in order with all else that happens to the record.
    class RunningOnSchedule
      BIT = 500

      # @param root [Store::Root]
      def initialize(root)
        @root = root
      end

      # @param job [Hash] row; its filter says for which moment
      # @return [Integer] records looked at
      def bit(job, rule, now)
        due = Time.iso8601(JSON.parse(job[:filter])["due"])
        place = job[:place] && JSON.parse(job[:place])
        ids = @root.records.ids_of(rule.kind.key, after: place && place["id"], limit: BIT, pins: rule.pins)
        met = ids.empty? ? [] : matching(ids, rule, due, now)
        said = {"timer" => "schedule", "job" => job[:id]}
        fired = met.map { |id| Firing.entry(row(rule, id, due), said, rule.rule.name, now) }
        @root.waiting.add(@root.journal.add_fired(fired))
        rest = {"id" => ids.last} if ids.size == BIT
        @root.jobs.progress(job, looked_at: ids.size, started: met.size, place: rest, now:)
        ids.size
      end

      private

      def row(rule, id, due) =
        {
          rule_id: rule.id, version_id: rule.version_id, kind: rule.kind.key, record_id: id, task_id: 0, due_at: due,
          depth: 0, data: nil
        }

      def matching(ids, rule, due, now)
        images = @root.records.images(ids)
        events =
          ids.filter_map do |id|
            image = images[id]&.except("kind") or next
            Core::Event.new(
              id: nil, what: "timer_fired", kind: rule.kind.key, record_id: id, before: image, after: image, who: nil,
              at: [due, now - Firing::LATE_AFTER].max, detail: {"timer" => "schedule", "rule" => rule.id}
            )
          end
        @root.snapshots.facts(events) { rule.needs_to_match }.select { |facts| rule.hit(facts) }
          .map { |facts| facts.record_id }
      end
    end
  end
end
