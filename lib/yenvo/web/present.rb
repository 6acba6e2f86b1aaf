# frozen_string_literal: true

module Yenvo
  module Web
    # Turns what is kept into what the API answers: plain values, and beside them the words in which people read them.
    class Present
      # @param root [Store::Root]
      # @param now [Time]
      # @param person [Hash] row of who asks
      def initialize(root, now:, person:)
        @root = root
        @now = now
        @asker = person
        @calendar = root.calendar
        @sight = Store::Sight.new(root, person && person[:key])
        @schema = @sight.access.schema
      end

      include PeoplePart
      include RecordPart
      include TaskPart
      include RulePart
      include TrailPart
      include KitPart
      include TeamPart
      include MessagePart
      include VersionsPart
      include FormsPart
      include TablesPart
      include DoorsPart
      include LettersPart
      include ImportsPart
      include BulkPart
      include AheadPart
      include VeilPart

      # @param row [Hash]
      # @return [Hash] the same, moments in the plain form
      def plain(row) = row.transform_values { |value| Core::Reading.plain(value) }

      private

      attr_reader :root, :now, :schema, :calendar, :sight

      def today = @today ||= calendar.date_of(now)
      def stamp(time) = time && Core::Reading.moment(time)

      # @return [Hash] some of a row's columns, moments in the plain form
      def pick(row, *names) = plain(row.slice(*names))

      # @return [Array] what rows have in one column, without the empty ones
      def column(rows, name) = rows.filter_map { |row| row[name] }

      # @return [Hash{Integer => Hash}] id, title and kind of the records that rows are about
      def titles_of(rows) = sight.titles(column(rows, :record_id))

      def history = @history ||= Store::History.new(root, sight)
      def worklist = @worklist ||= Store::Worklist.new(root, sight)

      # What a rule or run wrote, as far as it names nothing that is kept.
      def veil(text) = sight.access.veil(text)

      # What something is called that may be gone.
      # @param names [Hash{Integer => String, Hash}] a name, or a row with one
      # @param noun [String] such as "rule"
      # @return [Hash, nil]
      def named(id, names, noun)
        found = names[id]
        found = found[:name] if found.is_a?(Hash)
        id && {id:, name: found || "a #{noun} that is gone"}
      end

      # @return [Hash, nil] who wrote the draft of a rule or kit, and when
      def draft_by(row) = row[:draft] && {by: row[:draft_by], at: stamp(row[:draft_at])}

      # @param row [Hash] of a version of a rule or kit
      def version(row) = {number: row[:number], by: row[:published_by], at: stamp(row[:published_at])}

      def load(text) = text ? JSON.parse(text) : nil
    end
  end
end
