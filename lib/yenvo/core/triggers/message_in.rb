# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # A message comes in from outside; the record that it makes is met.
      class MessageIn < CameIn
        def self.door = "message"
        def self.words = "comes in as a message"

        def sentence = "#{kind.label} comes in as a message"
      end
    end
  end
end
