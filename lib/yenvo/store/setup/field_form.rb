# frozen_string_literal: true

module Yenvo
  module Store
    # Reads what an administrator writes about a field.
    class FieldForm
      # @param type [Core::Schema::Kind]
      # @param known [Core::Schema::Field, nil] the field as it is
      def initialize(type, schema, known)
        @type = type
        @schema = schema
        @known = known
      end

      # @return [Hash] columns of the table fields, without its key
      # @raise [Refused] with a sentence for what is wrong
      def read(given)
        label = given["label"].to_s.strip
        if label.empty? || label.size > 60
          refuse("label", "The name of the field takes a few words, at most 60 characters.")
        end
        kind = @known ? @known.type : given["type"]
        unless Core::Schema::TYPES.include?(kind)
          refuse("type", "Choose what the field holds: #{Core::Schema::TYPES.join(", ")}.")
        end
        if @known && given["type"] && given["type"] != @known.type
          refuse("type", "What a field holds cannot be changed, since rules and records rely on it. Add another field.")
        end
        if @known.nil? && @type.own_fields.size >= SetupChanges::MOST[:fields]
          refuse("label", "#{@type.plural} have #{SetupChanges::MOST[:fields]} fields; that is all there can be.")
        end
        {
          label:, type: kind, unit: unit(given["unit"]), links_to: links_to(kind, given["links_to"]),
          choices: JSON.generate(choices(kind, given["choices"])), formula: formula(kind, given["formula"], label)
        }
      end

      # @param key [String, nil] of the field whose formula it will be
      # @return [Array<Core::Problem>] also when it would lead back to itself
      def self.problems(source, kind, type, schema, key)
        problems = []
        Core::Formula.bind(source, type, schema, type: kind, problems:)
        return problems if problems.any? || key.nil?

        fields = type.own_fields.map { |field| (field.key == key) ? field.with(formula: source) : field }
        tried =
          Core::Schema::Kind.new(
            key: type.key, label: type.label, plural: type.plural, stage_label: type.stage_label, stages: type.stages,
            fields:
          )
        other =
          Core::Schema.new(
            kinds: schema.kinds.values.map { |one| (one.key == type.key) ? tried : one }, people: schema.people.values,
            queues: schema.queues, teams: schema.teams, zone: schema.zone, calendar: schema.calendar
          )
        other.formula_problems(tried, tried.field(key))
      end

      private

      def refuse(field, sentence) = raise(Refused.at(field => sentence))

      def unit(value)
        text = value.to_s.strip
        refuse("unit", "A unit has at most 10 characters, such as m or €.") if text.size > 10
        text.empty? ? nil : text
      end

      def links_to(kind, value)
        return unless kind == "link"
        return @known.links_to if @known

        @schema.kind(value.to_s) ? value : refuse("links_to", "Choose to what kind of record it leads.")
      end

      def choices(kind, given)
        return [] unless %w[choice choices].include?(kind)
        refuse("choices", "Write at least one choice.") unless given.is_a?(Array) && given.any?
        if given.size > SetupChanges::MOST[:choices]
          refuse("choices", "At most #{SetupChanges::MOST[:choices]} choices.")
        end

        taken = given.filter_map { |one| one["key"] }
        plain = given.map do |one|
          label = one["label"].to_s.strip
          refuse("choices", "Each choice takes a few words, at most 60 characters.") if label.empty? || label.size > 60
          [one["key"] || key_for(label, taken), label]
        end
        unless plain.map(&:first).uniq.size == plain.size &&
            plain.map { |_, label| label.downcase }.uniq.size == plain.size
          refuse("choices", "Each choice stands once.")
        end
        plain
      end

      def key_for(label, taken)
        plain = label.downcase.gsub(/[^a-z0-9]+/, "_").gsub(/\A_+|_+\z/, "")[0, 50]
        plain = "choice" if plain.empty?
        ([plain] + (2..taken.size + 2).map { |n| "#{plain}_#{n}" }).find { |key| !taken.include?(key) }
          .tap { |key| taken << key }
      end

      def formula(kind, source, label)
        text = source.to_s.strip.delete_prefix("=").strip
        if @known && @known.worked_out? == text.empty?
          refuse(
            "formula",
            "#{label} holds what people type; what is worked out has to be made so from the beginning. Add another " \
            "field."
          )
        end
        return if text.empty?

        unless Core::Formula::RESULTS.include?(kind)
          refuse("type", "A worked-out field is one of #{Core::Formula::RESULTS.join(", ").tr("_", " ")}.")
        end
        problems = self.class.problems(text, kind, @type, @schema, @known&.key)
        refuse("formula", "The formula #{problems[0].text}.") if problems.any?
        text
      end
    end
  end
end
