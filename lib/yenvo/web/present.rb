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
        @schema, @calendar = root.setup
      end

      include PeoplePart
      include RecordPart
      include TaskPart
      include RulePart
      include TrailPart
      include KitPart
      include TeamPart
      include AheadPart

      private

      attr_reader :root, :now, :schema, :calendar

      def today = @today ||= calendar.zone.date_of(now)
      def stamp(time) = time && Core::Reading.moment(time)
      def load(text) = text ? JSON.parse(text) : nil
    end
  end
end
