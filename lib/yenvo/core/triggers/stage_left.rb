# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # A record goes out of a stage, status or section.
      class StageLeft < Trigger
        def self.takes = {"stages" => :stages}
        def self.needs = ["stages"]
        def self.words = "leaves"

        def before_save? = true

        def prepare = @stages = Array(settings["stages"])
        def check(problems) = check_stages("stages", problems)
        def watch_keys = [["field", "stage"]]
        def possible = {"stage" => @stages}

        def beyond_key
          stages = @stages
          ->(facts) { stages.include?(facts.before["stage"]) }
        end

        def to_proc
          stages = @stages
          ->(facts) { facts.before["stage"] != facts.after["stage"] && stages.include?(facts.before["stage"]) }
        end

        def sentence = "#{kind.stage_label} leaves #{stage_labels(@stages)}"

        # The record is thought to go on to the next stage of the row, or to have none left.
        def imagine(image)
          return unless @stages.include?(image["stage"])

          later = kind.stages.map(&:key).drop_while { |key| key != image["stage"] }[1]
          [image, image.merge("stage" => later)]
        end

        def miss(facts)
          return "#{kind.stage_label} did not change" if facts.before["stage"] == facts.after["stage"]

          "#{kind.stage_label} was #{stage_labels([facts.before["stage"]])}"
        end
      end
    end
  end
end
