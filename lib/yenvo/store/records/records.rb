# frozen_string_literal: true

module Yenvo
  module Store
    # Contacts, deals, tickets and list entries: making, changing, reading. A save, its journal entry and its rows in
    # the index are one transaction.
    class Records < Base
      keeps :records

      SETTABLE = %w[title stage owner].freeze

      # @param rules [BeforeSave] what rules have to say before a save
      def initialize(root, rules)
        super(root)
        @rules = rules
      end

      # @param kind [String]
      # @param values [Hash{String => Object}] by field key, as typed
      # @param cause [Journal::Cause]
      # @param came [Hash, nil] for what comes in from outside: door, "form" or "message", and which form it was
      # @param told [Array, nil] filled with what rules set before the save (see BeforeSave)
      # @return [Hash] the image of the new record
      # @raise [Refused] with a sentence per field
      def make(kind, values, cause:, came: nil, told: nil)
        type = schema.kind(kind) || raise(NotFound, "There is no kind of record #{kind.inspect}.")
        plain = read(type, beginning(type, cause.who).merge(values))
        unless plain["title"]
          refuse("title", "Title takes a few words by which people know the #{type.noun}.")
        end

        root.transaction { insert(type, {**plain, **first(cause)}.compact, cause, came, told) }
      end

      # Makes many of one kind at one go, of values that were read and looked at already; no rule is asked before they
      # are saved. In the caller's transaction.
      # @param plains [Array<Hash>] plain values
      # @return [Array<Hash>] images, in order
      # @raise [Sequel::UniqueConstraintViolation] when something stands there already that stands once
      def make_many(type, plains, cause:, came: nil)
        first = first(cause)
        images = plains.map { |plain| {**plain, **first}.compact }
        ids = insert_all(:records, images.map { |image| {kind: type.key, **Image.columns(image)} })
        images.zip(ids) { |image, id| image["id"] = id }
        rows = images.map { |image| {record_id: image["id"], before: {}, after: image, detail: came} }
        entries = root.journal.add_each("record_made", cause, type.key, rows)
        entered(ids, entries)
        root.happened.records_made(type, images, entries, cause)
        images
      end

      # @param kind [String]
      # @return [Boolean] whether rules look at such before they are saved
      def rules_before?(kind) = @rules.any?(kind)

      # @param who [String, nil]
      # @return [Hash] plain values with which a record begins
      def beginning(type, who)
        usual = type.own_fields.reject { |field| field.default.nil? }.to_h { |field| [field.key, field.default] }
        {"stage" => type.stages.first&.key, "owner" => who}.merge(usual)
      end

      # @param version [Integer, nil] the version that the person saw; nil takes the newest
      # @param values [Hash{String => Object}] the fields to change, as typed; a blank one empties the field
      # @param told [Array, nil] filled with what rules set before the save (see BeforeSave)
      # @param whole [Boolean] whether a required field that is empty from long ago has to be filled in now
      # @return [Hash] the image after it
      # @raise [Refused, Conflict, NotFound]
      def change(id, values, cause:, version: nil, told: nil, whole: false)
        root.transaction do
          row = lock(id)
          type = schema.kind!(row[:kind])
          before = Image.of(row)
          plain = read(type, values)
          if plain.key?("title") && plain["title"].nil?
            refuse("title", "Title takes a few words; it cannot be empty.")
          end

          check_conflicts(type, before, plain, version, cause) if version && version != before["version"]
          plain = plain.reject { |key, value| before[key] == value }
          plain.empty? ? before : update(type, row, before, plain, cause, told, whole)
        end
      end

      # Sets last contact, as an interaction does, in the caller's transaction.
      # @param at [Time, nil]
      def touch(id, at:, cause:, what:, detail:)
        row = lock(id)
        before = Image.of(row)
        after =
          before.merge(
            "last_contact" => [before["last_contact"], at && Core::Reading.moment(at)].compact.max,
            "changed" => Core::Reading.moment(cause.at), "version" => before["version"] + 1
          ).compact
        write(row, schema.kind!(row[:kind]), before, after, what, cause, detail)
        after
      end

      # Has a link field lead from one record to another that takes its place, as people would; no rule has a say.
      # @return [Boolean] whether it led there
      def lead_on(id, field, from, to, cause:)
        row = lock(id)
        before = Image.of(row)
        return false unless before[field] == from

        after = stamped(before, before.merge(field => to).compact, Core::Reading.moment(cause.at))
        write(row, schema.kind!(row[:kind]), before, after, "record_changed", cause, nil)
        true
      end

      # Puts fields back to what they were once, whatever is required or a rule would say now.
      # @param values [Hash{String => Object}] plain
      def set_back(id, values, cause:)
        row = lock(id)
        before = Image.of(row)
        after = stamped(before, before.merge(values).compact, Core::Reading.moment(cause.at))
        write(row, schema.kind!(row[:kind]), before, after, "record_changed", cause, nil)
      end

      # Makes an entry of a list again that was taken off.
      # @param image [Hash] with its kind
      def restore(image, cause:)
        id, kind = image.values_at("id", "kind")
        plain = {
          **image.except("kind"),
          "version" => image["version"] + 1, "changed" => Core::Reading.moment(cause.at)
        }
        root.transaction do
          table.insert(id:, kind:, **Image.columns(plain))
          write({id:, kind:}, schema.kind!(kind), {}, plain, "record_restored", cause, nil)
        end
      end

      # @return [Hash] the image, with "id" and "version"
      # @raise [NotFound]
      def find!(id) = Image.of(row!(id))

      # @return [Hash] the row
      def row!(id, rows = table.where(id:)) =
        rows.select(*Image::COLUMNS).first || raise(NotFound, Records.gone(id))

      # @return [String] said of a field that a kind has not
      def self.no_field(type, key) = "A #{type.noun} has no field #{key.to_s[0, 60].inspect}."

      # @return [String] said of a link to what is not there, or of another kind
      def self.no_target(field, id) = "#{field.label} takes a #{field.links_to}; record #{id} is none."

      # @return [String] said of a record that is not there
      def self.gone(id) = "There is no record #{id}; it may have been removed."

      # @return [Hash{Integer => Hash}] images by id, each with its kind
      def images(ids)
        return {} if ids.compact.empty?

        table.select(*Image::COLUMNS).where(id: ids.compact.uniq).all
          .to_h { |row| [row[:id], Image.of(row).merge("kind" => row[:kind])] }
      end

      # Ids of records of a kind, in order.
      # @param after [Integer, nil] id to go on from
      # @param pins [Hash{String => Array}] own fields that must have one of some values; only the stage narrows what is
      #   read
      # @return [Array<Integer>]
      def ids_of(kind, after:, limit:, pins: {})
        found = table.where(kind:).order(:id).limit(limit)
        found = found.where { Sequel[:id] > after } if after
        found = found.where(stage: pins["stage"]) if pins["stage"]
        found.select_map(:id)
      end

      # Records of a kind, in order of their ids, kept from being changed or taken away until the transaction ends.
      # @param after [Integer, nil] id to go on from
      # @return [Hash{Integer => Hash}] images by id, each with its kind
      def held_of(kind, after:, limit:)
        found = table.select(*Image::COLUMNS).where(kind:).order(:id).limit(limit)
        found = found.where { Sequel[:id] > after } if after
        found.lock_style(SHARED).all.to_h { |row| [row[:id], Image.of(row).merge!("kind" => row[:kind])] }
      end

      # @return [Integer] how many there are of a kind
      def count_of(kind) = table.where(kind:).count

      # @return [Hash{Integer => Hash}] rows with title, kind and fields, by id
      def hints(ids) =
        if ids.compact.empty?
          {}
        else
          table.where(id: ids.compact.uniq).select(:id, :title, :kind, :fields).as_hash(:id)
        end

      # @return [Hash{Integer => Hash}] rows with title and kind, by id
      def titles(ids) = table.where(id: ids.compact.uniq).select(:id, :title, :kind).as_hash(:id)

      # Keeps records from being changed or taken away until the transaction ends.
      # @return [Hash{Integer => Hash}] images of those that are there
      def held(ids) =
        table.select(*Image::COLUMNS).where(id: ids.sort).order(:id).lock_style(SHARED).all
          .to_h { |row| [row[:id], Image.of(row)] }

      SHARED = Sequel.lit("LOCK IN SHARE MODE")
      private_constant :SHARED
      HELD = SHARED

      # Locks a record against other saves until the transaction ends.
      def lock(id) = row!(id, table.where(id:).for_update)

      # @return [Core::Schema::Field] that people and rules can set
      # @raise [Core::Unreadable] a sentence
      def settable!(type, key)
        field = type.field(key)
        raise Core::Unreadable, Records.no_field(type, key) unless field
        raise Core::Unreadable, "#{field.label} is worked out and cannot be set." if field.worked_out?
        return field if !field.built_in || SETTABLE.include?(key)

        raise Core::Unreadable, "#{field.label} is kept by Yenvo and cannot be set."
      end

      private

      def first(cause)
        moments = %w[made changed stage_since].to_h { |key| [key, Core::Reading.moment(cause.at)] }
        {"creator" => cause.who, **moments, "visit" => 1, "version" => 1}
      end

      # Each record knows its newest entry.
      def entered(ids, entries)
        db[:records].join(:journal, record_id: :id)
          .where(Sequel[:records][:id] => ids, Sequel[:journal][:id] => entries)
          .update(Sequel[:records][:entry_id] => Sequel[:journal][:id])
      end

      # Required fields have to be filled in. A record that lacks one from before that was asked is let be, unless it is
      # to be whole now; then whoever fills in one of several may go on with the next.
      def check_required(type, before, after, whole: true)
        empty = type.own_fields.select { |field| field.required && after[field.key].nil? }
        return if empty.empty?

        emptied = empty.reject { |field| before[field.key].nil? }
        filling = type.own_fields.any? { |field| field.required && before[field.key].nil? && after[field.key] }
        asked = (whole && !(filling && before.any?)) ? empty : emptied
        raise Refused.at(asked.to_h { |field| [field.key, "#{field.label} has to be filled in."] }) if asked.any?
      end

      # @return [Hash{String => Object}] plain values
      def read(type, values)
        problems = {}
        plain =
          values.to_h do |key, value|
            [key, Core::Reading.value(settable!(type, key), value, schema)]
          rescue Core::Unreadable => error
            problems[key] = error.message
            [key, nil]
          end
        if plain.key?("stage") && plain["stage"].nil? && type.stages.any?
          problems["stage"] ||= "#{type.stage_label} cannot be empty."
        end
        check_targets(type, plain, problems)
        raise Refused.at(problems) if problems.any?

        plain
      end

      def check_targets(type, plain, problems)
        wanted = plain.select { |key, value| value && type.field(key)&.type == "link" }
        return if wanted.empty?

        kinds = table.where(id: wanted.values).select_hash(:id, :kind)
        wanted.each do |key, id|
          field = type.field(key)
          next if kinds[id] && field.leads_to?(schema.kind!(kinds[id]))

          problems[key] = Records.no_target(field, id)
        end
      end

      def check_conflicts(type, now, wanted, version, cause)
        seen = root.journal.image_at_version(now["id"], version) || {}
        clashing = wanted.select { |key, value| seen[key] != now[key] && value != now[key] }
        return if clashing.empty?

        fields = clashing.keys.to_h { |key| [key, type.field(key)] }
        links = fields.select { |_, field| field.type == "link" }.keys
        seen = Sight.new(root, cause.who).titles(clashing.values_at(*links) + now.values_at(*links))
        titles = seen.transform_values { |row| row[:title] }
        conflicts =
          fields.map do |key, field|
            yours, theirs = [clashing, now].map { |image| Core::Show.value(field, image[key], schema, titles) }
            {
              "field" => key, "label" => field.label, "yours" => yours, "yours_plain" => clashing[key],
              "theirs" => theirs, "theirs_plain" => now[key], **last_change(now["id"], key)
            }
          end
        raise Conflict.new(
          "Somebody else changed #{fields.values.map(&:label).join(" and ")} while you were editing. Nothing was " \
          "saved; choose which value stands.", conflicts:, version: now["version"]
        )
      end

      def last_change(id, key)
        db[:journal].where(record_id: id).exclude(after: nil).reverse(:id).limit(50).select(:before, :after, :who, :at)
          .each do |row|
            next if (load(row[:before]) || {})[key] == load(row[:after])[key]

            return {"who" => schema.name_of(row[:who]), "at" => Core::Reading.moment(row[:at])}
          end
        {"who" => "Somebody", "at" => nil}
      end

      def insert(type, image, cause, detail, told)
        image, done = @rules.run("record_made", type, {}, image, cause, detail)
        image = checked(type, {}, image)
        check_required(type, {}, image)
        id = table.insert(kind: type.key, **Image.columns(image))
        image = image.merge("id" => id)
        entry = write({id:, kind: type.key}, type, {}, image, "record_made", cause, done.noted(detail))
        done.write(entry, {}, image, told)
        image
      end

      def update(type, row, before, plain, cause, told, whole)
        after, done = @rules.run("record_changed", type, before, before.merge(plain).compact, cause, nil)
        after = checked(type, before, after)
        check_required(type, before, after, whole:)
        after = stamped(before, after, Core::Reading.moment(cause.at))
        entry = write(row, type, before, after, "record_changed", cause, done.noted(nil))
        done.write(entry, before, after, told)
        after
      end

      # Since when each field has been what it is stands with the record, so that rules can ask for it.
      def stamped(before, after, stamp)
        changed =
          (before.keys | after.keys).reject { |key| before[key] == after[key] } - Core::Schema::Kind::KEPT_BY_YENVO
        after =
          after.merge(
            "changed" => stamp, "version" => before["version"] + 1,
            "since" => (before["since"] || {}).merge(changed.to_h { |key| [key, stamp] })
          )
        if before["stage"] == after["stage"]
          after
        else
          after.merge("stage_since" => stamp, "visit" => before["visit"] + 1)
        end
      end

      # What rules set has to be as sound as what people type. What stays as it was is not asked again: it may lead to a
      # record that is gone by now, or be a choice that there is no more.
      def checked(type, before, image)
        set =
          type.fields.each_value.reject do |field|
            field.worked_out? || (field.built_in && !SETTABLE.include?(field.key)) ||
              before[field.key] == image[field.key]
          end
        image.merge(read(type, image.slice(*set.map(&:key)))).compact
      end

      # @return [Integer] number of the entry
      def write(row, type, before, after, what, cause, detail)
        entry = root.journal.add(what, cause, record_id: row[:id], kind: row[:kind], before:, after:, detail:)
        columns = before.empty? ? {} : Image.columns(after)
        table.where(id: row[:id]).update(**columns, entry_id: entry)
        root.happened.record_changed(type, before, after, entry, cause)
        entry
      end
    end
  end
end
