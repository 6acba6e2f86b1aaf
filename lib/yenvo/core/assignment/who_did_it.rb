# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # Whoever caused the event; nobody when Yenvo did.
      class WhoDidIt < Way
        def self.words = "who did it"
        def pick(facts) = facts.event.who
        def described = "who did it"
        def nobody = "Yenvo itself did it"
      end
    end
  end
end
