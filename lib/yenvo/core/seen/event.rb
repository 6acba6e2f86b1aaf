# frozen_string_literal: true

module Yenvo
  module Core
    # One thing that happened, as the journal keeps it.
    # id: number in the journal; what: "record_made", "record_changed" and so on; kind: key of the record's kind;
    # before, after: images of the record (Hash of field key to plain value; before is empty for a new record);
    # who: key of the person, nil for Yenvo; at: Time in UTC; depth: links of the chain that led here, 0 for people;
    # cause_rule: id of the rule whose run caused it, or nil; detail: what else is known of it, such as the text of a
    # note.
    class Event
      attr_reader :id, :what, :kind, :record_id, :before, :after, :who, :at, :depth, :cause_rule, :detail

      def initialize(id:, what:, kind:, record_id:, before:, after:, who:, at:, depth: 0, cause_rule: nil, detail: nil)
        @id = id
        @what = what
        @kind = kind
        @record_id = record_id
        @before = before || {}.freeze
        @after = after
        @who = who
        @at = at
        @depth = depth
        @cause_rule = cause_rule
        @detail = detail || {}.freeze
      end

      # @return [Array<String>] keys of the fields that differ, without the stamps that Yenvo keeps itself
      def changed_fields
        @changed_fields ||= Event.differing(before, after)
      end

      # @return [Array<String>] keys under which two images differ, without the stamps that Yenvo keeps itself
      def self.differing(before, after)
        kept = Schema::Kind::KEPT_BY_YENVO
        found = []
        added = 0
        after.each do |key, value|
          next if (was = before[key]) == value

          added += 1 if was.nil? && !before.key?(key)
          found << key unless kept.include?(key)
        end
        # Most events take nothing away.
        return found if before.size + added == after.size

        before.each { |key, was| found << key unless was.nil? || after.key?(key) || kept.include?(key) }
        found
      end

      # @return [Array<String>] codes such as !haul that it brings
      def codes = @codes ||= Codes.of(self)

      # The same as something that happened to its task, for rules that are about tasks. It is still about the record,
      # where there is one.
      # @return [Event]
      def of_task
        links = Schema::Subjects.links(kind, record_id)
        now = (detail["task"] || {}).merge(links)
        was = detail["task_was"] || detail.dig("origin", "detail", "task_was") || {}
        Event.new(
          id:, what:, kind: Schema::Subjects::TASK, record_id:,
          before: (what == "task_made") ? {} : now.merge(was).compact, after: now, who:, at:, depth:,
          cause_rule:, detail:
        )
      end

      # Nothing happens: a record is looked at as it is.
      # @param image [Hash] with "id"
      # @param before [Hash] what it was before; so was it, when not given
      def self.look(kind, image, at:, what: "look", before: image, who: nil, detail: nil) =
        new(
          id: nil, what:, kind:, record_id: image["id"], before:, after: image, who:, at:,
          detail:
        )

      # @return [Event] the same, but for what is given
      def with(before: @before, after: @after, at: @at, depth: @depth, cause_rule: @cause_rule)
        Event.new(
          id:, what:, kind:, record_id:, before:, after:, who:, at:,
          depth:, cause_rule:, detail:
        )
      end

      # @return [Event] the same, the record having been so before and after
      def with_both(image) = with(before: image, after: image)

      # @return [Event] the same at another moment
      def with_at(moment) = with(at: moment)

      # @return [Event] the same with another image after it
      def with_after(image) = with(after: image)

      # @return [Time] when what a wait goes on from happened; the moment of the event itself where nothing waited
      def began_at = detail["began_at"] ? Time.iso8601(detail["began_at"]) : at

      # @return [Event] the same about a record that is so now; it was so before, unless it is known what it was
      def seen_as(image) = before.empty? ? with_both(image) : with_after(image)
    end
  end
end
