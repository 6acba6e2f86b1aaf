# frozen_string_literal: true

module Yenvo
  module Core
    class Schema
      # Of what people are told, and how: each chooses for each kind. What a person or a rule tells them, and failed
      # tries to sign in with their address, always stand in the bell.
      module Telling
        # In the bell alone; there and by a mail at once; there and in the daily mail; or not at all.
        WAYS = %w[bell mail daily none].freeze

        # By kind: when it is, and how people are told unless they choose.
        KINDS = {
          "given" => ["a task is given to you or passed on to you", "bell"],
          "queue" => ["a task comes to a queue of a team of yours", "none"],
          "mention" => ["somebody names you in a comment", "bell"],
          "reminder" => ["the moment of a reminder comes", "bell"],
          "late" => ["a task of yours gets late", "none"],
          "failed" => ["a rule of yours fails, pauses itself, or could not deliver something", "bell"],
          "stuck" => ["a kit that you began is stuck", "bell"],
          "leaning" => ["something goes that your rules or kits lean on", "bell"],
          "job" => ["long work that you began has ended", "bell"]
        }.freeze

        # @param kind [String, nil]
        # @return [String] one of WAYS
        def self.usual(kind) = KINDS.dig(kind, 1) || "bell"
      end
    end
  end
end
