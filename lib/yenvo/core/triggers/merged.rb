# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # Others of its kind were merged into the record.
      class Merged < Trigger
        def self.short = "merged"
        def self.words = "is merged with others that are the same"

        def what = "record_merged"
        def watch_keys = [["merged"]]
        def sample_detail = {"titles" => ["another"], "records" => [0]}
        def to_proc = ->(facts) { facts.event.what == "record_merged" }
        def sentence = "Others are merged into the #{kind.noun}"
        def imagine(image) = [image, image]
        def miss(_facts) = "Nothing was merged into it"
      end
    end
  end
end
