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
          text = fill(@text, read_there(facts, @target), now, rule_name)
          return nothing("the text came out empty") if text.empty?

          way = settings["way"]
          words = "#{EventSide::WAYS.fetch(way)} logged#{@target.words(facts)}"
          words += ": #{text[0, 120]}" if @target.told?
          [effect(Effects::LogInteraction, words, record: id, way:, text:)]
        end

        def shown = "Log: #{Text.shown(settings["text"], @kind, @schema)}"

        private

        def prepare
          target
          check_one_of(EventSide::WAYS.keys, settings["way"], "way")
          @text = template("text")
        end
      end
    end
  end
end
