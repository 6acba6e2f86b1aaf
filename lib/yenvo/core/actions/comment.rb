# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Says something about a task that was made before, or is watched; who is named with an @ is told.
      class Comment < Action
        include OnTask

        def self.takes = {"on" => :text, "text" => :template}
        def self.required = %w[text]
        def self.words = "Comment on a task"

        def plan(facts, now:, rule_name:)
          text = fill(@text, facts, now, rule_name)
          return nothing("the text came out empty") if text.empty?

          [effect(Effects::CommentOnTask, "Said about the task: #{text[0, 120]}", on:, text: text[0, MOST])]
        end

        # Characters of a comment.
        MOST = 4_000

        def shown = "Comment: #{Text.shown(settings["text"].to_s, @kind, @schema)}"

        private

        def prepare
          check_on
          @text = template("text")
        end
      end
    end
  end
end
