# frozen_string_literal: true

require "liquid"

module Yenvo
  module Core
    # A record inside a text: {{ record.boat_length }}, {{ record.boat_owner.phone }}, {{ record.boat_owner }}.
    class RecordDrop < Liquid::Drop
      def initialize(image, kind, schema, facts)
        super()
        @image = image
        @kind = kind
        @schema = schema
        @facts = facts
      end

      def liquid_method_missing(key)
        field = @kind.field(key)
        value =
          field && @image && (field.worked_out? ? @schema.formula(@kind, field)&.call(@facts, @image) : @image[key])
        return if value.nil?
        return linked(field, value) if field.type == "link"

        # What is kept is never written where others read it.
        return Access::VEIL if field.kept

        FieldDrop.new(value, Show.value(field, value, @schema), @schema.zone)
      end

      def to_s = @image ? @image["title"].to_s : ""

      private

      def linked(field, id)
        kind = @schema.subject(field.links_to)
        image = @facts.linked[id]
        (kind && image) ? RecordDrop.new(image, kind, @schema, @facts) : nil
      end
    end
  end
end
