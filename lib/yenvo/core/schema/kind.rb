# frozen_string_literal: true

module Yenvo
  module Core
    class Schema
      # A kind of record: contact, deal, ticket, or the entries of one list (key "entry/launch_roster").
      # stage_label is the word this kind has for its steps: Stage, Status or Section.
      class Kind
        include Sliced

        attr_reader :key, :label, :plural, :stage_label, :stages, :fields, :seen_by, :changed_by, :taken_away_by

        # Fields that say when and how often, kept by Yenvo: a change of these alone is no change of the record.
        KEPT_BY_YENVO = %w[changed last_contact stage_since visit version since].freeze
        # The link of an entry to the record that was put on the list.
        ABOUT = "about"

        # @param key [String]
        # @param stages [Array<Choice>] in order
        # @param fields [Array<Field>] those beyond the built-in ones
        # @param built_in [Array<Field>] those every record has
        # @param seen_by, changed_by, taken_away_by [String] one of Access::LEVELS
        def initialize(
          key:, label:, plural:, stage_label:, stages:, fields:, built_in: nil, seen_by: "everyone",
          changed_by: "everyone", taken_away_by: "owner"
        )
          @key = key
          @label = label
          @plural = plural
          @stage_label = stage_label
          @seen_by = seen_by
          @changed_by = changed_by
          @taken_away_by = taken_away_by
          @stages = stages.freeze
          @fields = ((built_in || usual_fields) + fields).to_h { |field| [field.key, field] }.freeze
          @worked_out = @fields.values.select(&:worked_out?).freeze
          @links = @fields.values.select { |field| field.type == "link" }.freeze
          freeze
        end

        # @return [Array<Field>] fields whose value is a formula
        attr_reader :worked_out

        # @return [Array<Field>] fields that lead to a record
        attr_reader :links

        # @return [Field, nil]
        def field(key) = fields[key]
        def own_fields = fields.values.reject(&:built_in)
        def family = key.split("/").first
        def list = key.split("/")[1]

        # @return [Boolean] whether it is tasks, as what a rule is about
        def task? = key == Subjects::TASK

        # @return [String] such as "deal" or "launch of Launch roster", to put after "a"
        def noun = label.downcase

        # @return [Field, nil] what a record of this kind is an entry about, for lists on which records are put
        def about = (field(ABOUT) if list)

        # @param own [Array<Field>]
        # @return [Kind] the same with other fields of its own
        def with_fields(own) = Kind.new(**slice(*NAMED, *Access::VERBS), fields: own)

        # @param levels [Hash{Symbol => String}] of Access::VERBS
        # @return [Kind] the same, seen, changed and taken away by others
        def with_access(**levels) = Kind.new(**slice(*NAMED), fields: own_fields, **levels)

        NAMED = %i[key label plural stage_label stages].freeze
        private_constant :NAMED

        private

        def usual_fields
          [
            %w[title Title text], %w[owner Owner person], %w[creator Creator person], %w[made Made datetime],
            %w[changed Changed datetime], ["last_contact", "Last contact", "datetime"],
            ["stage_since", "#{stage_label} since", "datetime"]
          ].map { |key, label, type| Field.of(key, label, type, built_in: true) }
            .insert(1, Field.of("stage", stage_label, "choice", choices: stages, built_in: true))
        end
      end
    end
  end
end
