# frozen_string_literal: true

module Yenvo
  module Core
    # A person inside a text: shows as their name, compares as their key, and tells how they are reached.
    class PersonDrop < FieldDrop
      PARTS = %w[name email phone team].freeze

      # Who did it is compared by name, as it is shown.
      # @param key [String, nil] nil for Yenvo itself
      def self.of_event(key, schema) = new(key, schema.name_of(key), schema, compares: schema.name_of(key))

      # @param key [String, nil]
      # @param shown [String]
      # @param compares [String, nil]
      def initialize(key, shown, schema, compares: key)
        super(compares, shown)
        @person = schema.person(key)
        @schema = schema
      end

      def name = @shown
      def email = @person&.email
      def phone = @person&.phone

      # @return [String, nil] name of the team that their work counts for
      def team = @schema.teams[@person&.team]
    end
  end
end
