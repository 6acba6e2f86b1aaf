# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Logs a note, call, e-mail, letter or meeting on the record, a linked one or one just made.
      class LogInteraction < Action
        def self.takes = {"of" => :target, "way" => :text, "text" => :template}
        def self.required = %w[way text]
        def self.words = "Log a note or interaction"

        def plan(facts, now:, rule_name:)
          id = @target.find(facts) or return nothing(@target.missing)
          text = fill(@text, facts, now, rule_name)
          return nothing("the text came out empty") if text.empty?

          [
            effect(
              Effects::LogInteraction,
              "#{EventSide::WAYS.fetch(settings["way"])} logged#{@target.words(facts)}: #{text[0, 120]}",
              record: id, way: settings["way"], text:
            )
          ]
        end

        def shown = "Log: #{Text.shown(settings["text"], @kind, @schema)}"

        private

        def prepare
          target
          wrong("way", "must be one of #{EventSide::WAYS.keys.join(", ")}") unless EventSide::WAYS.key?(settings["way"])
          @text = template("text")
        end
      end
    end
  end
end
