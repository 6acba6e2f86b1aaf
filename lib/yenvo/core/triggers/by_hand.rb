# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # Somebody starts the rule on records they have chosen. Nothing else starts it.
      class ByHand < Trigger
        def self.short = "by hand"
        def self.words = "is chosen and the rule started by hand"

        def what = "started"
        def watch_keys = [["hand"]]
        def sample_detail = {"by_hand" => true}
        def to_proc = ->(facts) { facts.event.what == "started" }
        def sentence = "Started by hand on a #{kind.noun}"
        def imagine(image) = [image, image]
        def miss(_facts) = "Nobody started it by hand"
      end
    end
  end
end
