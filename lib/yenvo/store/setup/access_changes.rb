# frozen_string_literal: true

module Yenvo
  module Store
    # Who sees, changes and takes away the records of a kind, and which of its fields are kept for leads and
    # administrators; for administrators.
    class AccessChanges < Base
      include Saving

      LEVELS = Core::Access::LEVELS.keys.freeze
      DONE = {changed_by: "changes", taken_away_by: "takes away"}.freeze
      private_constant :DONE

      # @return [String] why a field cannot be kept and required
      def self.both(label) =
        "#{label} has to be filled in, so it cannot be kept: whoever does not see it could make no record."

      # @param seen [Integer, nil] epoch of the set-up on which the change rests
      def initialize(root, seen: nil)
        super(root)
        @seen = seen
      end

      # @param kind [String] key
      # @param given [Hash{String => Object}] seen_by, changed_by, taken_away_by: each one of LEVELS; kept: keys of
      #   fields
      # @raise [Refused, NotFound, Conflict]
      def change(kind, given, cause:)
        type = kind!(kind)
        row, kept = read(type, given)
        save(cause, ["access", kind]) do
          db[:kinds].where(key: kind).update(row)
          own = db[:fields].where(kind:, removed_at: nil)
          own.where(key: kept).update(kept: true)
          own.exclude(key: kept).update(kept: false)
        end
      end

      # What would be so after the change: nothing is written.
      # @return [Hash] all: records of the kind; persons: Array of Hash with person and how many of them they see;
      #   tasks: open tasks that would be with somebody who does not see what they are about
      # @raise [Refused, NotFound]
      def preview(kind, given)
        type = kind!(kind)
        row, = read(type, given)
        wanted = schema.with_kind(type.with_access(**row))
        counts = db[:records].where(kind:).group_and_count(:owner).all
        sees = ->(person, row) { wanted.access(person).may?(:seen_by, wanted.kind(kind), row[:owner]) }
        persons =
          schema.people.each_value.select(&:at_work?).map do |one|
            {person: one.key, sees: sum(counts.select { |row| sees.call(one.key, row) })}
          end
        lost = root.task_rows.holders([kind]).reject { |row| sees.call(row[:assignee], row) }
        {all: sum(counts), persons:, tasks: sum(lost)}
      end

      private

      def sum(rows) = rows.sum { |row| row[:count] }

      def kind!(key) = schema.kind(key) || raise(NotFound, "There is no kind of record #{key.inspect}.")

      # @return [Array(Hash, Array<String>)] columns, and keys of the fields that are kept
      def read(type, given)
        row = Core::Access::VERBS.to_h { |verb| [verb, level(verb, given[verb.to_s])] }
        DONE.each do |verb, does|
          next if LEVELS.index(row[verb]) >= LEVELS.index(row[:seen_by])

          seen = Core::Access::LEVELS.fetch(row[:seen_by])
          refuse(verb.to_s, "Whoever #{does} #{type.plural.downcase} has to see them, and they are seen by #{seen}.")
        end
        [row, fields(type, given["kept"])]
      end

      def level(verb, value)
        return value if LEVELS.include?(value)

        refuse(verb.to_s, "Choose one of: #{Core::Access::LEVELS.values.join(", ")}.")
      end

      def fields(type, keys)
        keys.uniq.each do |key|
          field = type.field(key)
          refuse("kept", "#{type.plural} have no field #{Core::Show.quoted(key)}.") unless field
          refuse("kept", "#{field.label} is built in and stays in sight.") if field.built_in || field == type.about
          refuse("kept", self.class.both(field.label)) if field.required
        end
      end
    end
  end
end
