# frozen_string_literal: true

module Yenvo
  module Core
    # Something about the event itself: who did it, when, since when the record had been as it was before, and for notes
    # and calls what was said.
    class EventSide < Side
      WAYS = {
        "note" => "Note", "call" => "Call", "email" => "E-mail", "letter" => "Letter", "meeting" => "Meeting"
      }.freeze
      # Texts say what was logged; a record that came in says by which door, and which form it was.
      ALL = {
        "who" => ["Who did it", "person", ->(facts) { facts.event.who }],
        "team" => ["Team of who did it", "choice", nil],
        "at" => ["When it happened", "datetime", ->(facts) { Reading.moment(facts.event.at) }],
        "since" => ["Before that since", "datetime", ->(facts) { EventSide.since(facts) }],
        "way" => ["Way of the interaction", "choice", ->(facts) { facts.event.detail["way"] }],
        "text" => ["What was said", "long_text", ->(facts) { facts.event.detail["text"] }],
        "door" => ["How it came in", "choice", ->(facts) { facts.event.detail["door"] }],
        "form" => ["Form that was sent", "choice", ->(facts) { facts.event.detail["form"] }]
      }.freeze
      DOORS = {"form" => "Form", "message" => "Message", "mail" => "E-mail", "table" => "Table"}.freeze

      # @return [Array(EventSide, nil), Array(nil, String)]
      def self.find(path, name, schema, _kind)
        if ALL.key?(name)
          [new(path, name, schema), nil]
        else
          [nil, "must be one of #{ALL.keys.map { |key| "event.#{key}" }.join(", ")}; #{path[0, 60].inspect} is none"]
        end
      end

      # Since when what changed had been as it was before: the stage, when that changed, else the first field that did.
      # @return [String, nil] plain form
      def self.since(facts)
        changed = facts.event.changed_fields
        return facts.before["stage_since"] if changed.empty? || changed.include?("stage")

        (facts.before["since"] || {})[changed.first] || facts.before["made"]
      end

      def initialize(path, name, schema)
        label, type, get = ALL.fetch(name)
        get ||= ->(facts) { schema.person(facts.event.who)&.team }
        super(path, Schema::Field.of(path, label, type, choices: choices(name, schema)), &get)
        freeze
      end

      private

      def choices(name, schema) =
        {
          "team" => schema.teams.to_a, "way" => WAYS.to_a, "door" => DOORS.to_a, "form" => schema.forms.to_a
        }.fetch(name, [])
    end
  end
end
