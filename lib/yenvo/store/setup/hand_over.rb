# frozen_string_literal: true

module Yenvo
  module Store
    # What somebody who leaves hands over, and to whom: counted first, then moved bit by bit by a job, each move in the
    # history of what was moved; and given back within a week, where nobody has changed it since.
    class HandOver < Base
      PARTS = %w[records fields tasks rules kits presets].freeze
      # Seconds for which it can be taken back.
      BACK_WITHIN = 7 * 86_400
      NONE_LATELY = "There is no hand-over of the last seven days that could be taken back."
      UNDER_WAY = "The hand-over is still under way. Wait until it has ended, then take it back."
      # So many of the house are looked through; more than a house has in a week.
      MOST_JOBS = 200
      # To whom something goes. person or queue: keys; owner: whether tasks go to the owner of their record. All empty:
      # it stays where it is.
      Target = Core::Value.define(:person, :queue, :owner)

      # @param person [String] key
      # @return [Hash{String => Integer}] how many there are of each part
      def counts(person)
        {
          "records" => owned(person).count, "fields" => person_fields(person).count,
          "tasks" => root.task_rows.open.where(assignee: person).count,
          "rules" => db[:rules].where(owner: person).count, "kits" => db[:kits].where(owner: person).count,
          "presets" => db[:presets].where(by: person).count
        }
      end

      # Ends the account of a person at once, and has a job hand over what is theirs.
      # @param to [Hash{String => Hash}] by part: person, queue or owner
      # @return [Hash] the job
      # @raise [Refused, NotFound]
      def begin(person, to, cause:)
        one = root.people.find(person) || raise(NotFound, "There is no person #{person.inspect}.")
        targets = PARTS.to_h { |part| [part, target(part, to[part] || {}, person)] }
        root.transaction do
          SetupChanges.new(root).leave(person, cause:) if one[:active]
          root.jobs.begin_for_house(
            "hand_over", "Hand-over of #{one[:name]}", counts(person).values.sum,
            {"person" => person, "to" => targets.transform_values { |target| plain(target) }}, cause
          )
        end
      end

      # Lets a person in again, and has a job give back what was handed over, in however many goes.
      # @return [Hash] the job
      # @raise [Refused]
      def take_back(person, cause:)
        root.transaction do
          # Of two who press at once the second finds it taken back.
          db[:people].where(key: person).for_update.first
          jobs = to_take_back(person, now: cause.at)
          refuse("person", NONE_LATELY) if jobs.empty?
          refuse("person", UNDER_WAY) if jobs.any? { |job| under_way?(job) }

          SetupChanges.new(root).come_back(person, cause:)
          ids = column(jobs, :id)
          root.jobs.begin_for_house(
            "hand_back", "Hand-over of #{schema.name_of(person)} taken back",
            db[:handed_over].where(job_id: ids).count, {"person" => person, "jobs" => ids}, cause
          )
        end
      end

      # @return [Time, nil] until when the latest hand-over of a person can be taken back
      def back_until(person, now:) = to_take_back(person, now:).first&.fetch(:at)&.+(BACK_WITHIN)

      # @return [Hash, nil] the latest hand-over of a person, or the taking back of one
      def latest(person) = jobs_of(person).first

      # The next things of a part that are still the person's.
      # @param after [Array, nil] place to go on from
      # @return [Array<Array(Integer, String)>] ids, each with a field or nil
      def next_of(part, person, after:, limit:)
        id = after&.first || 0
        case part
        when "records" then owned(person).where { record_id > id }.order(:record_id).limit(limit)
          .select_map(%i[record_id field])
        when "fields" then page_of_fields(person, after, limit)
        when "tasks" then root.task_rows.open.where(assignee: person).where { Sequel[:id] > id }.order(:id).limit(limit)
          .select_map(:id).zip([])
        else
          table, column = OWNED.fetch(part)
          db[table].where(column => person).where { Sequel[:id] > id }.order(:id).limit(limit).select_map(:id).zip([])
        end
      end
      OWNED = {"rules" => %i[rules owner], "kits" => %i[kits owner], "presets" => %i[presets by]}.freeze

      # @return [Target]
      def read(plain) = Target.new(person: plain["person"], queue: plain["queue"], owner: plain["owner"] == true)

      private

      # @return [Array<Hash>] hand-overs and takings back, the newest first
      def jobs_of(person)
        found = db[:jobs].where(what: %w[hand_over hand_back]).reverse(:id).limit(MOST_JOBS).all
        found.select { |job| load(job[:filter])["person"] == person }
      end

      # Those since it was last taken back.
      def to_take_back(person, now:)
        since = now - BACK_WITHIN
        jobs_of(person).take_while { |job| job[:what] == "hand_over" }.select { |job| job[:at] > since }
      end

      def under_way?(job) = Jobs::UNDER_WAY.include?(job[:state])
      def plain(target) = target.to_h.transform_keys(&:to_s)

      def held(person) = db[:record_index].where(empty: false, num: 0, word: RecordIndex.word(person))
      def owned(person) = held(person).where(kind: schema.kinds.keys, field: "owner")

      def person_fields(person)
        own = schema.kinds.values.flat_map do |kind|
          kind.own_fields.select { |field| field.type == "person" && !field.worked_out? }
            .map { |field| {kind: kind.key, field: field.key} }
        end
        found = held(person)
        own.empty? ? found.where(false) : found.where(Sequel.|(*own))
      end

      def page_of_fields(person, after, limit)
        found = person_fields(person).order(:record_id, :field).limit(limit)
        found = found.where(Sequel.lit("(record_id, field) > (?, ?)", *after)) if after
        found.select_map(%i[record_id field])
      end

      def target(part, given, leaver)
        found = read(given)
        refuse(part, "Only tasks go to a queue or to the owner of their record.") if part != "tasks" &&
          (found.queue || found.owner)
        refuse(part, "Choose somebody else than whoever leaves.") if found.person == leaver
        unless found.person.nil? || schema.person(found.person)&.active
          refuse(part, "#{schema.name_of(found.person)} is not here; choose somebody who is.")
        end
        unless found.queue.nil? || schema.queues.key?(found.queue)
          refuse(part, "There is no queue #{Core::Show.quoted(found.queue)}; choose one from the list.")
        end
        found
      end
    end
  end
end
