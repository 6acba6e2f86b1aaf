# frozen_string_literal: true

module Yenvo
  module Engine
    # What a kit would do to a record as it is now. Writes nothing.
    class KitTrying
      # How many records are looked at for dates that would be past.
      MOST = 200

      # Result of a try. anchor: Date, Time or nil; tasks: Array of [key, Core::PlannedTask, or nil where it cannot be
      # planned, why it cannot]; facts: Core::Facts.
      Found = Core::Value.define(:kit, :anchor, :tasks, :facts)

      # @param kit [Core::Kits::CompiledKit]
      def initialize(root, kit, now:)
        @root = root
        @kit = kit
        @now = now
      end

      # Every task as if its turn had come now; those that come later count from the day they come.
      # @return [Found]
      # @raise [Store::NotFound, Store::Refused]
      def on(record_id)
        image =
          @root.records.images([record_id])[record_id] ||
          raise(Store::NotFound, "There is no record #{record_id}; it may have been removed.")
        unless image["kind"] == @kit.kind.key
          raise Store::Refused.at("record_id" => "The kit is for a #{@kit.kind.noun}; “#{image["title"]}” is none.")
        end

        facts = facts([image]).first
        anchor = @kit.anchor(facts, now: @now)
        Found.new(
          kit: @kit, anchor:, facts:,
          tasks: @kit.kit.tasks.map { |task| [task.key, *planned(task, facts, anchor)] }
        )
      end

      # @return [Hash] records: how many have the target ahead and were looked at; tasks: for each task whose due date
      #   would be past on some of them, its number, title, count, and one of them as an example
      def past
        kit = @kit.kit
        return {records: 0, tasks: []} unless kit.field?

        facts = facts(ahead).map { |one| one.anchored(@kit.anchor(one, now: @now)) }
        tasks =
          @kit.tasks.filter_map do |key, task|
            late = facts.select { |one| task.moved(one, now: @now)[:due]&.moment&.<= @now }
            example = late.first or next
            {number: kit.number(key), title: kit.task(key).title, count: late.size, example: example.after["title"]}
          end
        {records: facts.size, tasks:}
      end

      private

      # Records whose target is still to come, the newest changed first.
      def ahead
        today = @root.calendar.date_of(@now).iso8601
        @root.lists.newest(@kit.kind.key, {}, after: nil, limit: MOST, filters: {}, search: nil, now: @now)
          .select { |image| image[@kit.kit.from].to_s >= today }
      end

      def facts(images)
        events = images.map { |image| Core::Event.look(@kit.kind.key, image.except("kind"), at: @now, what: "kit") }
        @root.snapshots.facts(events, desk: @root.desks.look(now: @now)) { @kit.needs }
      end

      def planned(task, facts, anchor)
        found = @kit.come([task.key], facts, now: @now, anchor:).first
        found ? [found, nil] : [nil, "its title comes out empty, so it is never made"]
      rescue Core::Error => error
        [nil, error.message]
      end
    end
  end
end
