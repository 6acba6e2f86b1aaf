# frozen_string_literal: true

module Yenvo
  module Core
    # What becomes of what a program sends. kind: Schema::Kind of the records; how: "make", "change" or "both"; key:
    # Schema::Field by which the one that is changed is found, nil where all are made; rows: Array of DoorRow; types:
    # Array of the types of events that are taken, none for all.
    DoorMap =
      Value.define(:kind, :how, :key, :rows, :types) do
        # @param message [Hash]
        # @return [Array(Hash, Hash)] fields to plain values or DoorLink, and what is wrong by field
        def read(message, schema)
          problems = {}
          values =
            rows.to_h do |row|
              [row.field.key, row.read(message, schema)]
            rescue Unreadable => error
              problems[row.field.key] = error.message
              [row.field.key, nil]
            end
          problems[key.key] ||= missing if key && values[key.key].nil?
          [values.compact, problems]
        end

        def missing = "#{key.label} is missing, by which the #{kind.noun} is found."
        private :missing

        # @return [Boolean] whether events of a type are taken
        def takes?(type) = types.empty? || types.include?(type)

        # @return [Set<String>] what it leans on in the set-up, as in Uses
        def uses
          all = Set["kind #{kind.key}"]
          rows.each do |row|
            all << "field #{kind.key} #{row.field.key}"
            all << "field #{row.field.links_to} #{row.by}" if row.by
            row.choices.each_value { |choice| all << "choice #{kind.key} #{row.field.key} #{choice}" }
          end
          all
        end
      end

    DoorMap::HOW = %w[make change both].freeze
  end
end
