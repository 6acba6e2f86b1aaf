# frozen_string_literal: true

module Yenvo
  module Engine
    # Builds the timers of a version that was just published, or after the set-up has changed, for all records there
    # are. Records are kept from changing only while their own bit is written.
    class BuildingTimers
      BIT = 1_000

      # @param root [Store::Root]
      def initialize(root)
        @root = root
      end

      # @param job [Hash] row; its filter says at (moment from which a moment counts as past) and past ("fire" or
      #   "skip")
      # @return [Integer] records looked at
      def bit(job, rule, now)
        place = job[:place] && JSON.parse(job[:place])
        images = @root.records.held_of(rule.kind.key, after: place && place["id"], limit: BIT)
        ids = images.keys
        build(images, rule, JSON.parse(job[:filter])) unless ids.empty?
        rest = (ids.size == BIT) ? {"id" => ids.last} : nil
        @root.timers.drop_old(rule.id, rule.version_id) unless rest
        @root.jobs.progress(job, looked_at: ids.size, started: 0, place: rest, now: now)
        ids.size
      end

      private

      def build(images, rule, filter)
        places = @root.timers.places(rule, images.keys, at: Time.iso8601(filter["at"]))
        @root.upkeep.work_out(places, building: filter["past"] || "skip", images: images)
      end
    end
  end
end
