# frozen_string_literal: true

module Yenvo
  module Core
    class Schema
      # One field of a kind. type: a name in TYPES, for a worked-out field the type of what comes out; unit: "m" or "€",
      # or nil; links_to: key of the kind that a link leads to (a whole family such as "entry" allowed), or nil;
      # built_in: true for the fields every record has; formula: source of a worked-out field, nil for all others;
      # required: whether it has to be filled in; unique: whether each value stands once; default: plain value that a
      # new record begins with, or nil; help: what is said about it, or nil; group: under which it stands, or nil; kept:
      # whether only leads and administrators see it.
      Field =
        Value.define(
          :key, :label, :type, :choices, :unit, :links_to, :built_in, :formula, required: false, unique: false,
          default: nil, help: nil, group: nil, kept: false
        ) do
          # @return [Field] with the usual values for what is not given
          def self.of(key, label, type, choices: [], unit: nil, links_to: nil, built_in: false, formula: nil, **more)
            choices = choices.map { |given| given.is_a?(Choice) ? given : Choice.new(key: given[0], label: given[1]) }
            new(key:, label:, type:, choices: choices.freeze, unit:, links_to:, built_in:, formula:, **more)
          end

          def choice(key) = choices.find { |choice| choice.key == key }
          def choice_label(key) = choice(key)&.label || key
          # @return [String] such as "long text"
          def type_words = type.tr("_", " ")
          def textual? = TEXTS.include?(type)
          def numeric? = NUMBERS.include?(type)
          def dated? = DATES.include?(type)
          def worked_out? = !formula.nil?

          # @param kind [Kind]
          # @return [Boolean] whether it is a link that can lead to a record of that kind
          def leads_to?(kind) = type == "link" && [kind.key, kind.family].include?(links_to)

          # @return [Field] for one value of a field that holds several
          def single = (type == "choices") ? with(type: "choice") : self
        end
    end
  end
end
