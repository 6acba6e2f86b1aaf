# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # A note, call, e-mail, letter or meeting is logged on the record.
      class InteractionLogged < Trigger
        def self.takes = {"ways" => :ways}
        def self.short = "interaction"
        def self.words = "has an interaction logged"

        def what = "interaction_logged"
        def check(problems) = check_known("ways", EventSide::WAYS, "kinds of interaction", problems)
        def watch_keys = [["interaction"]]
        def sample_detail = {"way" => some("ways")&.first || "call", "text" => ""}

        def to_proc
          ways = some("ways")
          ->(facts) do
            facts.event.what == "interaction_logged" && (ways.nil? || ways.include?(facts.event.detail["way"]))
          end
        end

        def sentence = "#{labels("ways", EventSide::WAYS) || "Interaction"} logged"
        def imagine(image) = [image, image]

        def miss(facts) =
          if facts.event.what == "interaction_logged"
            "A #{EventSide::WAYS.fetch(facts.event.detail["way"], "note").downcase} was logged"
          else
            "Nothing was logged"
          end
      end
    end
  end
end
