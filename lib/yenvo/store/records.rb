# frozen_string_literal: true

module Yenvo
  module Store
    # Contacts, deals, tickets and list entries: making, changing, reading. A save, its journal entry and its rows in
    # the index are one transaction.
    class Records < Part
      SETTABLE = %w[title stage owner].freeze

      # @param kind [String]
      # @param values [Hash{String => Object}] by field key, as typed
      # @param cause [Journal::Cause]
      # @return [Hash] the image of the new record
      # @raise [Refused] with a sentence per field
      def make(kind, values, cause:)
        schema = root.schema
        type = schema.kind(kind) || raise(NotFound, "There is no kind of record #{kind.inspect}.")
        plain = read(type, {"stage" => type.stages.first&.key, "owner" => cause.who}.merge(values), schema)
        raise Refused.at("title" => "Title takes a few words by which people know the #{type.label.downcase}.") unless plain["title"]

        stamp = Core::Reading.moment(cause.at)
        image = plain.compact.merge("creator" => cause.who, "made" => stamp, "changed" => stamp, "stage_since" => stamp, "visit" => 1, "version" => 1).compact
        root.transaction { insert(type, image, cause) }
      end

      # @param version [Integer, nil] the version that the person saw; nil takes the newest
      # @param values [Hash{String => Object}] the fields to change, as typed; a blank one empties the field
      # @return [Hash] the image after it
      # @raise [Refused, Conflict, NotFound]
      def change(id, values, cause:, version: nil)
        schema = root.schema
        root.transaction do
          row = lock(id)
          type = schema.kind!(row[:kind])
          before = Image.of(row)
          plain = read(type, values, schema)
          raise Refused.at("title" => "Title takes a few words; it cannot be empty.") if plain.key?("title") && plain["title"].nil?

          check_conflicts(type, before, plain, version, schema) if version && version != before["version"]
          plain = plain.reject { |key, value| before[key] == value }
          plain.empty? ? before : update(type, row, before, plain, cause)
        end
      end

      # Sets last contact, as an interaction does, in the caller's transaction.
      def touch(id, at:, cause:, what:, detail:)
        row = lock(id)
        before = Image.of(row)
        after = before.merge("last_contact" => [before["last_contact"], Core::Reading.moment(at)].compact.max, "changed" => Core::Reading.moment(cause.at), "version" => before["version"] + 1)
        write(row, root.schema.kind!(row[:kind]), before, after, what, cause, detail)
      end

      # @return [Hash] the image, with "id" and "version"
      # @raise [NotFound]
      def find!(id) = Image.of(row!(id))

      # @return [Hash] the row
      def row!(id) = db[:records].select(*Image::COLUMNS).where(id: id).first || raise(NotFound, "There is no record #{id}; it may have been removed.")

      # @return [Hash{Integer => Hash}] images by id, each with its kind
      def images(ids)
        return {} if ids.compact.empty?

        db[:records].select(*Image::COLUMNS).where(id: ids.compact.uniq).all.to_h { |row| [row[:id], Image.of(row).merge("kind" => row[:kind])] }
      end

      # @return [Hash{Integer => Hash}] rows with title, kind and fields, by id
      def hints(ids) = ids.compact.empty? ? {} : db[:records].where(id: ids.compact.uniq).select(:id, :title, :kind, :fields).as_hash(:id)

      # @return [Hash{Integer => Hash}] rows with title and kind, by id
      def titles(ids) = db[:records].where(id: ids.compact.uniq).select(:id, :title, :kind).as_hash(:id)

      # Locks a record against other saves until the transaction ends.
      def lock(id) = db[:records].select(*Image::COLUMNS).where(id: id).for_update.first || raise(NotFound, "There is no record #{id}; it may have been removed.")

      private

      # @return [Hash{String => Object}] plain values
      def read(type, values, schema)
        problems = {}
        plain = values.to_h do |key, value|
          field = type.field(key)
          if field.nil? || (field.built_in && !SETTABLE.include?(key))
            problems[key] = field ? "#{field.label} is kept by Yenvo and cannot be set." : "A #{type.label.downcase} has no field #{key.to_s[0, 60].inspect}."
            next [key, nil]
          end
          [key, Core::Reading.value(field, value, schema)]
        rescue Core::Unreadable => error
          problems[key] = error.message
          [key, nil]
        end
        problems["stage"] ||= "#{type.stage_label} cannot be empty." if plain.key?("stage") && plain["stage"].nil? && type.stages.any?
        check_targets(type, plain, problems)
        raise Refused.at(problems) if problems.any?

        plain
      end

      def check_targets(type, plain, problems)
        wanted = plain.select { |key, value| value && type.field(key)&.type == "link" }
        return if wanted.empty?

        kinds = db[:records].where(id: wanted.values).select_hash(:id, :kind)
        wanted.each do |key, id|
          field = type.field(key)
          problems[key] = "#{field.label} takes a #{field.links_to}; record #{id} is none." unless kinds[id] && [kinds[id], kinds[id].split("/")[0]].include?(field.links_to)
        end
      end

      def check_conflicts(type, now, wanted, version, schema)
        seen = root.journal.image_at_version(now["id"], version) || {}
        clashing = wanted.select { |key, value| seen[key] != now[key] && value != now[key] }
        return if clashing.empty?

        titles = titles(clashing.flat_map { |key, value| (type.field(key).type == "link") ? [value, now[key]] : [] }).transform_values { |row| row[:title] }
        conflicts = clashing.map do |key, value|
          field = type.field(key)
          {"field" => key, "label" => field.label, "yours" => Core::Show.value(field, value, schema, titles), "yours_plain" => value,
           "theirs" => Core::Show.value(field, now[key], schema, titles), "theirs_plain" => now[key], **last_change(now["id"], key, schema)}
        end
        raise Conflict.new("Somebody else changed #{conflicts.map { |one| one["label"] }.join(" and ")} while you were editing. Nothing was saved; choose which value stands.", conflicts: conflicts, version: now["version"])
      end

      def last_change(id, key, schema)
        db[:journal].where(record_id: id).exclude(after: nil).reverse(:id).limit(50).select(:before, :after, :who, :at).each do |row|
          next if (load(row[:before]) || {})[key] == load(row[:after])[key]

          return {"who" => schema.name_of(row[:who]), "at" => Core::Reading.moment(row[:at])}
        end
        {"who" => "Somebody", "at" => nil}
      end

      def insert(type, image, cause)
        id = db[:records].insert(kind: type.key, **Image.columns(image))
        image = image.merge("id" => id)
        entry = root.journal.add("record_made", cause, record_id: id, kind: type.key, after: image)
        db[:records].where(id: id).update(entry_id: entry)
        RecordIndex.new(root).write(type, {}, image)
        root.links.follow(type, {}, image)
        image
      end

      def update(type, row, before, plain, cause)
        stamp = Core::Reading.moment(cause.at)
        after = before.merge(plain).compact.merge("changed" => stamp, "version" => before["version"] + 1)
        after = after.merge("stage_since" => stamp, "visit" => before["visit"] + 1) if before["stage"] != after["stage"]
        write(row, type, before, after, "record_changed", cause, nil)
      end

      def write(row, type, before, after, what, cause, detail)
        entry = root.journal.add(what, cause, record_id: row[:id], kind: row[:kind], before: before, after: after, detail: detail)
        db[:records].where(id: row[:id]).update(Image.columns(after).merge(entry_id: entry))
        RecordIndex.new(root).write(type, before, after)
        root.links.follow(type, before, after)
        after
      end
    end
  end
end
