# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Moves the record, a linked one or one just made to a stage, status or section.
      class MoveRecord < Action
        def self.takes = {"of" => :target, "to" => :text}
        def self.required = %w[to]
        def self.words = "Move the record"
        def self.before_save? = true

        def own_only? = @target&.own?

        def plan(facts, now:, rule_name:)
          id = @target.find(facts) or return nothing(@target.missing)
          [
            effect(
              Effects::ChangeRecord, "#{@target.kind.stage_label}#{@target.words(facts)} becomes #{@stage.label}",
              record: id, values: {"stage" => @stage.key}
            )
          ]
        end

        def shown = "Move to #{@stage.label}"

        private

        def prepare
          kind = target&.kind or return
          stages = kind.stages
          return wrong("of", "must name a record that has stages; a #{kind.noun} in general has none") if stages.empty?

          @stage = stages.find { |stage| stage.key == settings["to"] }
          known = stages.map(&:key).join(", ")
          wrong("to", "must be a #{kind.stage_label.downcase} of a #{kind.noun} (#{known})") unless @stage
        end
      end
    end
  end
end
