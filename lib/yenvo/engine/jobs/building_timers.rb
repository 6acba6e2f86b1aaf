# frozen_string_literal: true

module Yenvo
  module Engine
    # Builds the timers of a version that was just published, or after the set-up has changed, for all records, or
    # open tasks, there are. They are kept from changing only while their own bit is written.
    class BuildingTimers
      BIT = 1_000

      # @param root [Store::Root]
      def initialize(root)
        @root = root
      end

      # @param job [Hash] row; its filter says at (moment from which a moment counts as past) and past ("fire" or
      #   "skip")
      # @return [Integer] records, or tasks, looked at
      def bit(job, rule, now)
        after = job[:place] && JSON.parse(job[:place])["id"]
        filter = JSON.parse(job[:filter])
        ids = rule.kind.task? ? of_tasks(rule, after, filter) : of_records(rule, after, filter)
        rest = (ids.size == BIT) ? {"id" => ids.last} : nil
        @root.timers.drop_old(rule.id, rule.version_id) unless rest
        @root.jobs.progress(job, looked_at: ids.size, started: 0, place: rest, now:)
        ids.size
      end

      private

      def of_records(rule, after, filter)
        images = @root.records.held_of(rule.kind.key, after:, limit: BIT)
        work_out(rule, images.keys, filter, images:) unless images.empty?
        images.keys
      end

      def of_tasks(rule, after, filter)
        ids = @root.task_rows.ids_of_open(after:, limit: BIT, held: true)
        work_out(rule, ids, filter)
        ids
      end

      def work_out(rule, ids, filter, images: nil)
        places = @root.timers.places(rule, ids, at: Time.iso8601(filter["at"]))
        @root.upkeep.work_out(places, building: filter["past"] || "skip", images:)
      end
    end
  end
end
