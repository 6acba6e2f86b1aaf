# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Tells somebody, by a notice within Yenvo.
      class TellPerson < Action
        def self.takes = {"assign" => :assign, "fallback" => :assign, "text" => :template, "saved" => :kept}
        def self.required = %w[assign]
        def self.words = "Tell by notice"

        def plan(facts, now:, rule_name:)
          text = fill(@text, facts, now, rule_name)
          return nothing("the text came out empty") if text.empty?

          # A notice waits for whoever is away; so nobody is passed over for that.
          picks = @chooser.choose_all(facts, today: nil, whose: whose(facts))
          [
            effect(
              Effects::TellPersons, said(picks, text), record: facts.record_id, persons: picks.map(&:person).uniq,
              text: Reading.cut(text), reason: picks.map(&:reason).join("; ")
            )
          ]
        end

        def shown = "Tell: #{Text.shown(source_of("text"), @kind, @schema)}"

        private

        def said(picks, text) =
          "#{picks.map { |pick| pick.name(@schema) }.join(", ")} #{picks.one? ? "is" : "are"} told: #{text[0, 120]}"

        def prepare
          @chooser = chooser
          @text = template("text")
        end
      end
    end
  end
end
