# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # A record is made.
      class RecordMade < Trigger
        def self.short = "new"
        def self.words = "is made"

        def before_save? = true
        def what = "record_made"

        def watch_keys = [["made"]]
        def beyond_key = nil
        def to_proc = ->(facts) { facts.event.what == "record_made" }
        def sentence = "New #{kind.label.downcase}"
        def imagine(image) = [{}, image]
        def miss(_facts) = "Nothing was made; the #{kind.label.downcase} was there before"
      end
    end
  end
end
