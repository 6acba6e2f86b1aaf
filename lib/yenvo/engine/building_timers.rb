# frozen_string_literal: true

module Yenvo
  module Engine
    # Builds the timers of a version that was just published, or after the set-up has changed, for all records there are.
    # Records are kept from changing only while their own bit is written.
    class BuildingTimers
      BIT = 500

      # @param root [Store::Root]
      def initialize(root)
        @root = root
      end

      # @param job [Hash] row; its filter says at (moment from which a moment counts as past) and past ("fire" or "skip")
      # @return [Integer] records looked at
      def bit(job, rule, now)
        place = job[:place] && JSON.parse(job[:place])
        ids = @root.records.ids_of(rule.kind.key, after: place && place["id"], limit: BIT)
        build(ids, rule, JSON.parse(job[:filter])) unless ids.empty?
        rest = (ids.size == BIT) ? {"id" => ids.last} : nil
        @root.timers.drop_old(rule.id, rule.version_id) unless rest
        @root.jobs.progress(job, looked_at: ids.size, started: 0, place: rest, now: now)
        ids.size
      end

      private

      def build(ids, rule, filter)
        @root.records.hold(ids)
        @root.upkeep.work_out(@root.timers.places(rule, ids, at: Time.iso8601(filter["at"])), building: filter["past"] || "skip")
      end
    end
  end
end
