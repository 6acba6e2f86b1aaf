# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Writes on a board: a channel of a chat server.
      class PostOnBoard < Message
        def self.takes = {"address" => :text, "text" => :template, "saved" => :kept, **LATER}
        def self.required = []
        def self.words = "Write on a board"

        def plan(facts, now:, rule_name:)
          text = fill(@text, facts, now, rule_name)
          return nothing("the text came out empty") if text.empty?

          name = @board.name
          content = {"to" => name, "subject" => text.lines.first.to_s.strip[0, 120], "text" => text}
          message(@board.destination, content, facts, now, words: "On the board #{name}: #{text[0, 120]}")
        end

        def shown = "Board: #{Text.shown(source_of("text"), @kind, @schema)}"

        private

        def prepare
          @board = address("board")
          @text = template("text")
          prepare_leaving
        end
      end
    end
  end
end
