# frozen_string_literal: true

module Yenvo
  module Engine
    # Hands over what was somebody's who has left, part by part, as whoever began it would by hand; what cannot be
    # moved stays, and is counted. What was moved is written down, so that it can be given back.
    class HandingOver
      include StepByStep

      BIT = 100

      # @param job [Hash] row
      # @return [Integer] things looked at
      def bit(job, now)
        filter = JSON.parse(job[:filter])
        part, after = job[:place] ? JSON.parse(job[:place]).values_at("part", "after") : [parts[0], nil]
        things = hand_over.next_of(part, filter["person"], after:, limit: BIT)
        target = hand_over.read(filter["to"].fetch(part))
        cause = Store::Journal::Cause.person(job[:by], now)
        moved = things.count { |id, field| move(job, part, id, field, target, filter["person"], cause) }
        place = next_place(part, things)
        @root.jobs.progress(job, looked_at: things.size, started: moved, place:, now:)
        tell(job, filter["person"], now) unless place
        things.size
      end

      private

      def hand_over = @hand_over ||= Store::HandOver.new(@root)
      def parts = Store::HandOver::PARTS

      def next_place(part, things)
        return {"part" => part, "after" => things.last} if things.size == BIT

        follows = parts[parts.index(part) + 1]
        follows && {"part" => follows, "after" => nil}
      end

      # @return [Boolean] whether it was moved
      def move(job, part, id, field, target, leaver, cause)
        to = destination(part, id, target, leaver) or return false
        moved? do
          change(part, id, field, to, cause)
          @root.db[:handed_over].insert(job_id: job[:id], what: part, ref: id, field:, **to)
        end
      end

      # @return [Hash, nil] person and queue; nil where it stays
      def destination(part, id, target, leaver)
        if target.owner
          owner = @root.db[:records].where(id: @root.task_rows.about_id(id).select(:record_id)).get(:owner)
          gone = owner.nil? || owner == leaver || !@root.schema.person(owner)&.active
          return gone ? nil : {person: owner, queue: nil}
        end
        return unless target.person || target.queue

        {person: target.person, queue: target.queue}
      end

      def change(part, id, field, to, cause)
        case part
        when "records", "fields" then @root.records.change(id, {field => to[:person]}, cause:)
        when "tasks"
          @root.tasks.pass_on(id, assignee: to[:person], queue: to[:queue], quiet: true, cause:)
        else
          table, column = Store::HandOver::OWNED.fetch(part)
          row = @root.db[table].where(id:).first
          @root.db[table].where(id:).update(column => to[:person])
          audit(part, row, to[:person], cause)
        end
      end

      def audit(part, row, person, cause)
        words = "handed the #{part.delete_suffix("s")} “#{row[:name]}” over to #{@root.schema.name_of(person)}"
        what = Store::Audit::WHAT.key?(part) ? part : "people"
        @root.audit.note(what, words, who: cause.who, at: cause.at, about: "#{part.delete_suffix("s")} #{row[:id]}")
      end

      # Each who was given something hears of all of it at once; not whoever began it.
      def tell(job, leaver, now)
        given = @root.db[:handed_over].where(job_id: job[:id]).exclude(person: nil).exclude(person: job[:by])
        left = "#{@root.schema.name_of(leaver)} has left. You were handed over:"
        given.group_and_count(:person, :what).all.group_by { |row| row[:person] }.each do |person, rows|
          counts = rows.map { |row| "#{row[:count]} #{words(row)}" }
          @root.notices.add([person], "#{left} #{counts.join(", ")}.", what: "given", at: now)
        end
      end

      def words(row)
        return (row[:count] == 1) ? "place on a record" : "places on records" if row[:what] == "fields"

        (row[:count] == 1) ? row[:what].delete_suffix("s") : row[:what]
      end
    end
  end
end
