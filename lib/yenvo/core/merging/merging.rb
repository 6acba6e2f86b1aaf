# frozen_string_literal: true

module Yenvo
  module Core
    # What becomes of the fields of records of one kind that are merged: of each, which record's value stands, or all
    # of them together where that makes sense. The first record is the one that stays.
    class Merging
      TOGETHER = "together"
      # Types whose values can stand beside each other.
      JOINED = %w[choices long_text].freeze
      BUILT_IN = %w[title stage owner].freeze
      private_constant :JOINED, :BUILT_IN

      # One field. values: by record, in order; choice: id of the record whose value stands unless somebody chooses
      # otherwise; differs: whether there is anything to choose; together: whether all can stand together.
      Row = Value.define(:field, :values, :choice, :differs, :together)

      # @param kind [Schema::Kind]
      # @param images [Array<Hash>] with their ids, the one that stays first
      def initialize(kind, images)
        @kind = kind
        @images = images
        @ids = images.map { |image| image["id"] }
      end

      # @return [Array<Row>] fields that any of them has filled in
      def rows = fields.map { |field| row(field) }.reject { |row| row.values.compact.empty? }

      # @param choices [Hash{String => Integer, String}] by field, whose value stands, or TOGETHER
      # @return [Hash{String => Object}] what has to be changed of the one that stays, plain
      # @raise [Unreadable] a sentence
      def values(choices)
        known = rows.to_h { |row| [row.field.key, row] }
        unknown = choices.keys - known.keys
        raise Unreadable, "There is nothing to choose for #{unknown.first.inspect}." if unknown.any?

        chosen = known.transform_values { |row| value(row, choices.fetch(row.field.key, row.choice)) }
        chosen.reject { |key, value| value == @images[0][key] }
      end

      private

      def fields
        own = @kind.own_fields.reject(&:worked_out?)
        BUILT_IN.filter_map { |key| @kind.field(key) } + own
      end

      def row(field)
        values = @images.map { |image| leads_within?(field, image) ? nil : image[field.key] }
        differs = values.compact.uniq.size > 1
        together = differs && JOINED.include?(field.type)
        Row.new(field:, values:, choice: first_filled(values), differs:, together:)
      end

      # A record does not lead to itself.
      def leads_within?(field, image) = field.type == "link" && @ids.include?(image[field.key])
      def first_filled(values) = @ids[values.index { |value| !value.nil? } || 0]

      def value(row, choice)
        return together(row) if choice == TOGETHER

        place = @ids.index(choice)
        raise Unreadable, "#{row.field.label} takes the value of one of the records that are merged." unless place

        row.values[place]
      end

      def together(row)
        raise Unreadable, "#{row.field.label} takes one value; choose one of them." unless row.together

        filled = row.values.compact.uniq
        (row.field.type == "choices") ? filled.flatten.uniq : filled.join("\n\n")
      end
    end
  end
end
