# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # A note, call, e-mail, letter or meeting is logged on the record.
      class InteractionLogged < Trigger
        # answered: only mails that answer one of the house's.
        def self.takes = {"ways" => :ways, "answered" => :flag}
        def self.short = "interaction"
        def self.words = "has an interaction logged"

        def what = "interaction_logged"
        def check(problems) = check_known("ways", EventSide::WAYS, "kinds of interaction", problems)
        def watch_keys = [["interaction"]]

        def sample_detail
          return {"way" => "email", "text" => "", "answers" => 1} if answered?

          {"way" => some("ways")&.first || "call", "text" => ""}
        end

        def to_proc
          ways, answered = some("ways"), answered?
          ->(facts) do
            detail = facts.event.detail
            facts.event.what == "interaction_logged" && (ways.nil? || ways.include?(detail["way"])) &&
              (!answered || !detail["answers"].nil?)
          end
        end

        def sentence
          return "An answer to one of our mails came" if answered?

          "#{labels("ways", EventSide::WAYS) || "Interaction"} logged"
        end

        def imagine(image) = [image, image]

        def miss(facts) =
          if answered? && facts.event.detail["way"] == "email"
            "The e-mail answers none of ours"
          elsif facts.event.what == "interaction_logged"
            "A #{EventSide::WAYS.fetch(facts.event.detail["way"], "note").downcase} was logged"
          else
            "Nothing was logged"
          end

        private

        def answered? = settings["answered"] == true
      end
    end
  end
end
