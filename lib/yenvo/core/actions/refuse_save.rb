# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Stops a save with words, at some of its fields; in rules that run before the save.
      class RefuseSave < Action
        def self.takes = {"text" => :template, "fields" => :keys}
        def self.required = %w[text]
        def self.words = "Stop the save"
        def self.before_save? = true
        def self.after_save? = false

        def own_only? = true

        def plan(facts, now:, rule_name:)
          text = fill(@text, facts, now, rule_name)
          text = "“#{rule_name}” stops this save." if text.empty?
          [effect(Effects::StopSave, "The save is stopped: #{text}", text:, fields: settings["fields"] || [])]
        end

        def shown = "Stop the save: #{Text.shown(settings["text"].to_s, @kind, @schema)}"

        private

        def prepare
          @text = template("text")
          (settings["fields"] || []).each_with_index do |key, i|
            next if @kind.field(key) && !Schema::Kind::KEPT_BY_YENVO.include?(key) && !@kind.field(key).worked_out?

            wrong(["fields", i], "must be a field that people fill in; #{Show.quoted(key)} is none")
          end
        end
      end
    end
  end
end
