# frozen_string_literal: true

module Yenvo
  module Core
    # All that conditions, formulas and texts may look at when a rule meets an event: the record right after it, the
    # record before it, the records it links to and those that link to it, and its tasks, all as they were then.
    class Facts
      # Where a text is read that goes to nobody of the house.
      OUTSIDE = Object.new.freeze

      attr_reader :event, :linked, :related, :given

      # @return [Hash] the record right after the event, and before it
      attr_reader :after, :before

      # @return [Desk, nil] who is next and how much each has to do, for the ways to assign that ask
      attr_reader :desk

      # @return [Integer, nil] id of the rule that plans, where it asks for its owner
      attr_reader :rule

      # @return [Date, Time, nil] the start or target of the kit whose tasks are planned
      attr_reader :anchor

      # @return [Array(Schema::Kind, String), nil] kind and owner of the record where a text is read; nil for its own
      attr_reader :readers

      # @param event [Event]
      # @param linked [Hash{Integer => Hash}] images of linked records by id, each with "id"
      # @param related [Hash{Array(Integer, String) => Array<Hash>}] by id of a record and name of a relation, such as
      #   "ticket.boat" or "tasks": images of the records that lead to it, or of its tasks
      # @param today [Date, nil] the local day; that of the event when not given
      # @param given [Hash{String => Object}, nil] values of left sides by path that stand instead of what is worked out
      # @param anchor [Date, Time, nil]
      def initialize(event, linked = {}, related = {}, today: nil, given: nil, desk: nil, anchor: nil, rule: nil,
        readers: nil)
        @readers = readers
        @desk = desk
        @event = event
        @after = event.after
        @before = event.before
        @linked = linked
        @related = related
        @today = today
        @given = given
        @anchor = anchor
        @rule = rule
      end

      # @param image [Hash] of a task, which is looked at as if it were a record
      # @return [Facts]
      def self.of_task(image, at:) = new(Event.look("task", image, at:, what: "task"))

      # @param calendar [Calendar]
      # @return [Date] the local day of the event
      def today(calendar) = @today ||= calendar.date_of(event.at)

      # @return [Integer, nil] of the record that the event is about
      def record_id = event.record_id

      # @return [Facts] the same as if it were another day
      def on(date) = Facts.new(event, linked, related, today: date, given:, desk:)

      # @param moment [Time]
      # @return [Facts] the same if nothing changed until another moment
      def as_of(moment, date) = Facts.new(event.with_at(moment), linked, related, today: date, given:, desk:)

      # @return [Facts] the same with further records within reach
      def with_linked(more) = Facts.new(event, more.merge(linked), related, today: @today, given:, desk:)

      # @return [Facts] the same with other values in the record
      def changed(values) =
        Facts.new(
          event.with_after(after.merge(values).compact), linked, related, today: @today, given:, desk:,
          rule:
        )

      # @return [Facts] the same for the tasks of a kit
      def anchored(anchor) =
        Facts.new(event, linked, related, today: @today, given:, desk:, anchor:)

      # @param place [Array(Schema::Kind, String), nil]
      # @return [Facts] the same for texts that are read elsewhere
      def read_at(place) =
        Facts.new(event, linked, related, today: @today, given:, desk:, anchor:, rule:, readers: place)

      # @param schema [Schema]
      # @return [Array(Schema::Kind, String), nil] kind and owner of the record that it comes down to
      def place(schema)
        task = event.kind == Schema::Subjects::TASK
        image = task ? linked[after[Schema::Subjects::ABOUT]] : after
        kind = schema.kind(Schema::Subjects.kind_of(self))
        [kind, image["owner"]] if kind && image
      end

      # @return [Facts] the same, seen by a rule
      def of_rule(id) = Facts.new(event, linked, related, today: @today, given:, desk:, rule: id)

      # @return [Desk] the one that came along, else one that begins here
      def desk_for(schema) = @desk ||= Desk.new(schema)

      # @return [Hash{Integer => String}] titles of the linked records
      def titles = @titles ||= linked.transform_values { |image| image["title"] }
    end
  end
end
