# frozen_string_literal: true

module Yenvo
  module Store
    # Worked-out fields: their values for people, and their place in the index by which lists are sorted and filtered.
    # A value that goes up by one every day or working day ("slides") is kept in the index less the day's number, so
    # that it stays right without being touched. One that changes at some day is looked at again on that day, and on no
    # other.
    class WorkedOut < Base
      INLINE = 20
      AHEAD = 60
      FIRST_DAY = Date.new(2000, 1, 1)

      # @param images [Array<Hash>] of one kind
      # @param now [Time]
      # @return [Array<Hash>] the images with their worked-out fields filled in
      def fill(images, type, now:)
        return images if type.worked_out.empty? || images.empty?

        formulas = type.worked_out.to_h { |field| [field.key, root.schema.formula(type, field)] }.compact
        facts(images, type, now).zip(images)
          .map { |seen, image| image.merge(formulas.transform_values { |formula| formula.call(seen, image) }.compact) }
      end

      # Rewrites the index of records, and notes when they have to be looked at next.
      # @param ids [Array<Integer>]
      def reindex(ids, now)
        today = root.calendar.date_of(now)
        root.records.images(ids).values.group_by { |image| image["kind"] }.each do |kind, images|
          type = root.schema.kind(kind)
          next if type.nil? || type.worked_out.empty?

          facts(images, type, now).zip(images).each { |seen, image| write(type, seen, image, today) }
        end
      end

      # After a record was made, changed or taken away: its own fields, and those of records that look at it.
      def record_changed(type, before, after, _entry, cause)
        ids = dependents(type, before, after)
        ids << after["id"] if after["id"] && type.worked_out.any?
        settle_or_note(ids, cause.at)
      end

      # Many that were made at one go.
      def records_made(type, images, _entries, cause)
        ids = images.flat_map { |image| dependents(type, {}, image) }
        ids += images.map { |image| image["id"] } if type.worked_out.any?
        settle_or_note(ids, cause.at)
      end

      def record_gone(type, image, entry, cause) = record_changed(type, image, {}, entry, cause)

      # After tasks about records were made or changed.
      # @param places [Array<Array(String, Integer)>] kind and id of the records
      def tasks_touched(places, now)
        kinds = uses.select { |use| use[:over] == "tasks" && use[:chain].empty? }.map { |use| use[:kind] }
        settle_or_note(places.filter_map { |kind, id| id if kinds.include?(kind) }, now)
      end

      # After a record has come back with its links: itself, and those that lead to it.
      def came_back(id, now) = settle_or_note([id, *db[:links].where(target_id: id).select_map(:record_id)], now)

      # Looks again at records whose day has come.
      # @return [Integer] how many
      def settle(now:, limit: 200)
        today = root.calendar.date_of(now)
        return 0 if db[:stale].where(Sequel[:on_date] <= today).empty?

        root.transaction do
          ids =
            db[:stale].where(Sequel[:on_date] <= today).order(:on_date, :record_id).limit(limit).for_update.skip_locked
              .select_map(:record_id)
          next 0 if ids.empty?

          delete_keys(:stale, :record_id, ids)
          reindex(ids, now)
          ids.size
        end
      end

      # After fields or the calendar have changed, all records of the kinds with worked-out fields have to be looked at.
      def all_stale(now)
        kinds = root.schema.kinds.values.select { |type| type.worked_out.any? }.map(&:key)
        today = root.calendar.date_of(now)
        kinds.each do |kind|
          db[:stale].on_duplicate_key_update(:on_date).insert(
            %i[record_id on_date], db[:records].where(kind:).select(:id, Sequel.cast(today.iso8601, Date))
          )
        end
      end

      # What has to be taken off a value before it is looked for in the index, and put on again after.
      # @return [Integer] 0 for fields that do not slide
      def shift(type, field, now)
        slide = field.worked_out? ? root.schema.formula(type, field)&.slide : nil
        slide ? day_number(slide, root.calendar.date_of(now)) : 0
      end

      private

      def facts(images, type, now)
        needs = needs(type)
        events = images.map { |image| Core::Event.look(type.key, image, at: now) }
        root.snapshots.facts(events) { needs }
      end

      def needs(type) = type.worked_out.flat_map { |field| root.schema.formula(type, field)&.needs || [] }.uniq

      def write(type, seen, image, today)
        id = image["id"]
        fields =
          type.worked_out.filter_map do |field|
            formula = root.schema.formula(type, field)
            [field, formula, formula.call(seen, image)] if formula
          end
        rows =
          fields.flat_map do |field, formula, value|
            value -= day_number(formula.slide, today) if value.is_a?(Numeric) && formula.slide
            RecordIndex.rows(field, value)
          end
        db[:record_index].where(record_id: id, field: type.worked_out.map(&:key)).delete
        db[:record_index].import(RecordIndex::COLUMNS, rows.map { |row| [type.key, id, *row] })
        note(id, next_day(fields, seen, image, today))
      end

      # The first day within two months on which a value is another, or the end of these.
      def next_day(fields, seen, image, today)
        bending = fields.select { |_, formula, _| formula.day? && formula.slide.nil? }
        return if bending.empty?

        (1..AHEAD).each do |n|
          (facts = seen.on(today + n)) && bending.any? { |_, formula, value| formula.call(facts, image) != value } &&
            (return today + n)
        end
        today + AHEAD
      end

      def note(id, day)
        if day
          db[:stale].on_duplicate_key_update(:on_date).insert(record_id: id, on_date: day)
        else
          delete_keys(:stale, :record_id, [id])
        end
      end

      def settle_or_note(ids, now)
        ids = ids.uniq
        return if ids.empty?
        return reindex(ids, now) if ids.size <= INLINE

        today = root.calendar.date_of(now)
        db[:stale].on_duplicate_key_update(:on_date).import(%i[record_id on_date], ids.map { |id| [id, today] })
      end

      def day_number(slide, day)
        days, working = slide
        (days * (day - FIRST_DAY).to_i) + (working * working_days_to(day))
      end

      def working_days_to(day)
        calendar = root.calendar
        @working_days = {} unless @working_days_for.equal?(calendar)
        @working_days_for = calendar
        @working_days[day] ||= calendar.working_days(FIRST_DAY, day)
      end

      # What the formulas of all kinds look at: kind, chain of links, and what is gone over at its end.
      def uses
        schema = root.schema
        return @uses if @uses_for.equal?(schema)

        @uses =
          schema.kinds.values.flat_map { |type| Dependents.uses(needs(type)).map { |use| use.merge(kind: type.key) } }
            .uniq
        @uses_for = schema
        @uses
      end

      # Records whose formulas look at this one.
      def dependents(type, before, after)
        walk = Dependents.new(root)
        uses.flat_map { |use| walk.ids(use, type, before, after) }.compact.uniq - [after["id"] || before["id"]]
      end
    end
  end
end
