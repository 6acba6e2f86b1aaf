# frozen_string_literal: true

require "openssl"

module Yenvo
  module Store
    # What programs sent, each event once for 30 days, whatever is sent again or at the same time; what was refused
    # waits here with the reason until it is taken again or put away.
    class Arrivals < Base
      keeps :arrivals

      DAYS = 30
      PAGE = 50
      PURGED_AT_ONCE = 1_000

      # What came of one. row: as it is kept; again: whether it had come before.
      Taken = Core::Value.define(:row, :again)

      # @param door [Hash] row
      # @param message [Hash] the attributes of a CloudEvent and its data
      # @return [Taken]
      def take(door, message, cause:)
        root.transaction do
          id = begin_once(door, message, cause)
          next Taken.new(row: table.where(once(door, message)).first, again: true) unless id

          root.program_doors.remember(door, message)
          settle(id, door, message, cause)
          Taken.new(row: find!(id), again: false)
        end
      end

      # What would come of it, without keeping anything.
      # @param map [Core::DoorMap]
      # @return [Array(Hash, Hash, Integer)] plain values and problems by field, and the record that would be changed
      def try(map, message)
        values, problems = read(map, message)
        found = target(map, values) if problems.empty? && map.key
        [values, problems, found]
      rescue Refused => error
        [values, error.fields, nil]
      end

      # Takes one again that was refused, by the table as it is now.
      # @return [Hash] its row
      # @raise [NotFound, Refused]
      def again(id, cause:)
        root.transaction do
          row = table.where(id:).for_update.first || find!(id)
          refuse("arrival", "It does not wait any more.") unless row[:state] == "refused"
          door = root.program_doors.find!(row[:door])
          settle(id, door, load(row[:body]), cause)
          find!(id)
        end
      end

      # @param door [String] key
      # @return [Hash{String => Integer}] how many were taken, and how many refused again
      def all_again(door, cause:)
        ids = table.where(door:, state: "refused").order(:id).limit(500).select_map(:id)
        states = ids.map { |id| again(id, cause:)[:state] }
        {"taken" => states.count("taken"), "refused" => states.count("refused")}
      end

      # Puts one away that was refused.
      # @raise [NotFound, Refused]
      def put_away(id, cause:)
        changed = table.where(id:, state: "refused").update(state: "away", settled_at: cause.at, settled_by: cause.who)
        return unless changed.zero?

        find!(id)
        refuse("arrival", "It does not wait any more.")
      end

      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>] rows, the newest first
      def page(state: "refused", door: nil, before: nil, limit: PAGE)
        found = table.where({state:, door:}.compact).reverse(:id).limit(limit)
        older(found, before)
      end

      # @return [Hash{String => Integer}] by door, how many wait
      def waiting = table.where(state: "refused").group_and_count(:door).as_hash(:door, :count)

      # @raise [NotFound]
      def find!(id) = table.where(id:).first || raise(NotFound, "There is no message #{id}; #{GONE}.")
      GONE = "after #{DAYS} days they are forgotten".freeze
      private_constant :GONE

      # @return [Integer] how many were forgotten
      def purge(now:)
        table.where { at < now - (DAYS * 86_400) }.order(:at).limit(PURGED_AT_ONCE).delete
      end

      private

      def once(door, message)
        source, id = message.values_at("source", "id")
        {door: door[:key], digest: OpenSSL::Digest::SHA256.hexdigest("#{source}\0#{id}")}
      end

      def begin_once(door, message, cause)
        source, event_id, type = message.values_at("source", "id", "type").map { |text| text.to_s[0, 500] }
        columns = {**once(door, message), source:, event_id:, type:, body: dump(message), state: "taken", at: cause.at}
        db.transaction(savepoint: true) { table.insert(columns) }
      rescue Sequel::UniqueConstraintViolation
        nil
      end

      # What is refused leaves nothing but its row.
      def settle(id, door, message, cause)
        record, made = db.transaction(savepoint: true) { carry_out(door, message, cause) }
        table.where(id:).update(
          state: "taken", record_id: record, made: made, reason: nil, fields: nil, settled_at: cause.at,
          settled_by: cause.who
        )
      rescue Refused => error
        reason = error.message[0, 1_000]
        table.where(id:).update(state: "refused", reason:, fields: dump(error.fields), settled_at: nil)
      end

      def carry_out(door, message, cause)
        map, problems = root.program_doors.read(door)
        refuse("kind", "The list that it is for was taken away.") unless map
        refuse("table", "Its table has to be mended first: #{problems[0].where} #{problems[0].text}.") if problems.any?
        refuse("type", "Events of the type #{message["type"]} are not taken.") unless map.takes?(message["type"])

        values, wrong = read(map, message)
        raise Refused.at(wrong) if wrong.any?

        write(map, values, door, cause)
      end

      # @return [Array(Hash, Hash)] plain values, and what is wrong, by field
      def read(map, message)
        values, problems = map.read(message, schema)
        links, plain = values.partition { |_, value| value.is_a?(Core::DoorLink) }.map(&:to_h)
        links.each do |key, link|
          id = linked(link)
          id ? plain[key] = id : problems[key] = "#{link.field.label}: there is no record with #{link.value}."
        end
        [plain, problems]
      end

      def linked(link)
        kind = schema.kind(link.field.links_to)
        return link.value[/\A\d{1,18}\z/]&.to_i unless link.by

        kind && found(kind, kind.field(link.by), link.value)
      end

      # @return [Array(Integer, Boolean)] the record, and whether it was made
      def write(map, values, door, cause)
        root.held_names.hold("#{map.kind.key} #{map.key.key} #{values[map.key.key]}", now: cause.at) if map.key
        id = target(map, values)
        if id
          root.records.change(id, values, cause:)
          [id, false]
        else
          came = {"door" => "message", "through" => door[:key]}
          [root.records.make(map.kind.key, {"owner" => nil, **values}, cause:, came:)["id"], true]
        end
      end

      # @return [Integer, nil] the record that is changed; nil for one that is made
      def target(map, values)
        return if map.how == "make"

        id = found(map.kind, map.key, values[map.key.key])
        return id if id || map.how == "both"

        refuse(map.key.key, "There is no #{map.kind.noun} with #{map.key.label} #{values[map.key.key]}.")
      end

      # The oldest that has that very value.
      def found(kind, field, value)
        row = RecordIndex.rows(field, Core::Reading.value(field, value, schema))[0] or return
        _, empty, num, word = row
        return if empty

        index = db[:record_index].where(kind: kind.key, field: field.key, empty: false, num:, word:)
        images = root.records.images(index.order(:record_id).limit(50).select_map(:record_id))
        images.sort.map(&:last).find { |image| image[field.key].to_s.casecmp?(value.to_s) }&.fetch("id")
      rescue Core::Unreadable
        nil
      end
    end
  end
end
