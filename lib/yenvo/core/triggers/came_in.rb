# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # The base of triggers that watch what comes in from outside: the record that it makes.
      class CameIn < Trigger
        def self.short = "came in"

        # @return [String] the door by which it came, a key of EventSide::DOORS
        def self.door = raise(NotImplementedError)

        def what = "record_made"
        def watch_keys = [["door", self.class.door]]
        def sample_detail = {"door" => self.class.door}

        def to_proc
          door = self.class.door
          ->(facts) { facts.event.what == "record_made" && facts.event.detail["door"] == door }
        end

        def imagine(image) = [{}, image]

        def miss(facts) =
          if facts.event.what == "record_made"
            "The #{kind.noun} was made by hand or by another door"
          else
            "Nothing came in"
          end
      end
    end
  end
end
