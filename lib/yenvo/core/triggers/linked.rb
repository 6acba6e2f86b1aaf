# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # Another record is linked to this one: by a link field of the other that leads here, or by a plain link.
      class Linked < Trigger
        def self.takes = {"kinds" => :kinds}
        def self.short = "linked"
        def self.words = "is linked with another record"

        def what = "linked"
        def check(problems) = check_known("kinds", known, "kinds of record", problems)
        def watch_keys = [["linked"]]
        def sample_detail = {"kind" => some("kinds")&.first || kind.key, "title" => "another record"}

        def to_proc
          kinds = some("kinds")
          ->(facts) { facts.event.what == "linked" && (kinds.nil? || kinds.include?(facts.event.detail["kind"])) }
        end

        def sentence =
          "A #{labels("kinds", known.transform_values(&:downcase)) || "record"} is linked to the #{kind.noun}"

        def imagine(image) = [image, image]

        def miss(facts) =
          if facts.event.what == "linked"
            "A #{schema.kind(facts.event.detail["kind"])&.noun || "record"} was linked"
          else
            "Nothing was linked"
          end

        private

        def known = schema.kinds.transform_values(&:label)
      end
    end
  end
end
