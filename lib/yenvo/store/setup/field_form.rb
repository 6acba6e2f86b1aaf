# frozen_string_literal: true

module Yenvo
  module Store
    # Reads what an administrator writes about a field.
    class FieldForm
      include FormWords

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
        label = text(given["label"], "label", "The name of the field")
        kind = @known&.type || given["type"]
        check_type(kind, given["type"])
        if @known.nil? && @type.own_fields.size >= MOST[:fields]
          refuse("label", "#{@type.plural} have #{MOST[:fields]} fields; that is all there can be.")
        end
        {
          label:, type: kind, unit: unit(given["unit"]), links_to: links_to(kind, given["links_to"]),
          choices: choices(kind, given["choices"]), formula: formula(kind, given["formula"], label),
          **manner(kind, given)
        }
      end

      # @param key [String, nil] of the field whose formula it will be
      # @return [Array<Core::Problem>] also when it would lead back to itself
      def self.problems(source, kind, type, schema, key)
        problems = []
        Core::Formula.bind(source, type, schema, type: kind, problems:)
        return problems if problems.any? || key.nil?

        fields = type.own_fields.map { |field| (field.key == key) ? field.with(formula: source) : field }
        tried = type.with_fields(fields)
        schema.with_kind(tried).formula_problems(tried, tried.field(key))
      end

      private

      # How it is filled in. What is not given stays as it is.
      def manner(kind, given)
        worked_out = !given["formula"].to_s.empty?
        row = {}
        row[:required] = required(given, worked_out) if given.key?("required")
        row[:unique] = unique(kind, given["unique"] == true, worked_out) if given.key?("unique")
        {"help" => 300, "group" => 60}.slice(*given.keys).each { |name, most|
          row[name.to_sym] = words(given, name, most)
        }
        row[:default_value] = default(kind, given) if given.key?("default")
        row
      end

      def required(given, worked_out)
        wanted = given["required"] == true && !worked_out
        (wanted && @known&.kept) ? refuse("required", AccessChanges.both(@known.label)) : wanted
      end

      def unique(kind, wanted, worked_out)
        return wanted if !wanted || (!worked_out && UniqueValues::TYPES.include?(kind))

        refuse("unique", "Only a text, address, number or date that people type can be held to stand once.")
      end

      def words(given, name, most)
        return if given[name].to_s.strip.empty?

        text(given[name], name, {"help" => "The help", "group" => "The group"}.fetch(name), most)
      end

      # @return [String, nil] as it is kept
      def default(kind, given)
        return if given["default"].nil? || given["default"] == "" || !given["formula"].to_s.empty?

        choices = read_choices(given["choices"] || [], "choices", "Choices", MOST[:choices])
        field = Core::Schema::Field.of("default", "The value to begin with", kind, choices:, unit: given["unit"],
          links_to: given["links_to"])
        refuse("default", "A link or a record of its own cannot stand on every new record.") if kind == "link"
        JSON.generate(Core::Reading.value(field, given["default"], @schema))
      rescue Core::Unreadable => error
        refuse("default", error.message)
      end

      def check_type(kind, given)
        unless Core::Schema::TYPES.include?(kind)
          refuse("type", "Choose what the field holds: #{Core::Schema::TYPES.join(", ")}.")
        end
        return if given.nil? || given == kind

        refuse("type", "What a field holds cannot be changed, since rules and records rely on it. Add another field.")
      end

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
        return "[]" unless %w[choice choices].include?(kind)
        refuse("choices", "Write at least one choice.") unless given.is_a?(Array) && given.any?

        JSON.generate(read_choices(given, "choices", "Choices", MOST[:choices]))
      end

      def formula(kind, source, label)
        text = source.to_s.strip.delete_prefix("=").strip
        if @known && @known.worked_out? == text.empty?
          refuse("formula", "#{label} holds what people type; only a new field can be worked out. Add another field.")
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
