# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # A record comes into a stage, status or section; a record made in it comes into it too.
      class StageEntered < Trigger
        def self.takes = {"stages" => :stages}
        def self.needs = ["stages"]
        def self.words = "becomes"

        def before_save? = true

        def prepare = @stages = Array(settings["stages"])
        def check(problems) = check_stages("stages", problems)
        def watch_keys = [["made"], ["field", "stage"]]
        def pins = {"stage" => @stages}
        def beyond_key = nil

        def to_proc
          stages = @stages
          ->(facts) { facts.before["stage"] != facts.after["stage"] && stages.include?(facts.after["stage"]) }
        end

        def sentence = "#{kind.stage_label} becomes #{stage_labels(@stages)}"

        def imagine(image)
          return unless @stages.include?(image["stage"])

          earlier = kind.stages.map(&:key).take_while { |key| key != image["stage"] }.last
          [image.merge("stage" => earlier), image]
        end

        def miss(facts)
          return "#{kind.stage_label} did not change" if facts.before["stage"] == facts.after["stage"]

          "#{kind.stage_label} became #{stage_labels([facts.after["stage"]])}"
        end
      end
    end
  end
end
