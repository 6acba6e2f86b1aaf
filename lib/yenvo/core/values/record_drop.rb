# frozen_string_literal: true

require "liquid"

module Yenvo
  module Core
    # A record inside a text: {{ record.boat_length }}, {{ record.boat_owner.phone }}, {{ record.boat_owner }}.
    class RecordDrop < Liquid::Drop
      # @param readers, place [Array(Schema::Kind, String), nil] kind and owner of the record where the text is read,
      #   and of this one
      def initialize(image, kind, schema, facts, readers: nil, place: nil)
        super()
        @readers = readers
        @seen = schema.shared?(readers, place)
        @image = image
        @kind = kind
        @schema = schema
        @facts = facts
      end

      def liquid_method_missing(key)
        field = @kind.field(key)
        return led_by(key) if field.nil? && @image

        value =
          field && @image && (field.worked_out? ? @schema.formula(@kind, field)&.call(@facts, @image) : @image[key])
        return if value.nil?
        return linked(field, value) if field.type == "link"

        # What is kept, or of a record that not all see, is never written where others read it.
        hidden = field.kept ? Access::VEIL : (Access::UNSEEN unless @seen)
        return PersonDrop.new(value, @schema.name_of(value), @schema) if field.type == "person" && !hidden

        hidden ? VeiledDrop.new(value, hidden) : FieldDrop.new(value, Show.value(field, value, @schema), @schema.zone)
      end

      def to_s
        return "" unless @image

        @seen ? @image["title"].to_s : Access::UNSEEN
      end

      private

      # Records that lead here go by two words, such as ticket.boat; tasks by one.
      def led_by(name)
        (name == "tasks") ? rows(name) : relation(name)
      end

      def relation(name) = RelationDrop.new { |field| rows("#{name}.#{field}") }

      def rows(name)
        relation = Relation.find(name, @kind, @schema).first or return

        kind = relation.kind
        @facts.related.fetch([@image["id"] || @facts.record_id, name], []).map do |image|
          RecordDrop.new(image, kind, @schema, @facts, readers: @readers, place: [kind, image["owner"]])
        end
      end

      def linked(field, id)
        kind = @schema.subject(field.links_to)
        image = @facts.linked[id]
        return unless kind && image

        place = [@schema.kind(image["kind"]) || kind, image["owner"]]
        RecordDrop.new(image, kind, @schema, @facts, readers: @readers, place:)
      end
    end
  end
end
