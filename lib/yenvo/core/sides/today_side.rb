# frozen_string_literal: true

module Yenvo
  module Core
    # The local day of the event as a left side.
    class TodaySide < Side
      def initialize(schema)
        calendar = schema.calendar
        super("today", Schema::Field.of("today", "Today", "date")) { |facts| facts.today(calendar).iso8601 }
        freeze
      end

      def day? = true
    end
  end
end
