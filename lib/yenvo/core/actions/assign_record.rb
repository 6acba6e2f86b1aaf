# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Gives the record, a linked one or one just made, to somebody: its owner, or another person field.
      class AssignRecord < Action
        def self.takes = {"of" => :target, "field" => :text, "assign" => :assign, "fallback" => :assign}
        def self.required = %w[assign]
        def self.words = "Assign the record"
        def self.before_save? = true

        def own_only? = @target&.own?

        def plan(facts, now:, rule_name:)
          id = @target.find(facts) or return nothing(@target.missing)
          pick = @chooser.choose(facts, today: today(now))
          words = "#{@field.label}#{@target.words(facts)} becomes #{pick.name(@schema)}"
          [effect(Effects::ChangeRecord, words, record: id, values: {@field.key => pick.person}, reason: pick.reason)]
        end

        def shown = "Assign #{@field.label.downcase}"

        private

        def prepare
          found = target
          @field = found&.kind&.field(settings["field"] || "owner")
          if found && (@field&.type != "person" || @field.worked_out? || @field.key == "creator")
            wrong("field", "must be a person field of a #{found.kind.noun}")
          end
          @chooser = chooser
        end
      end
    end
  end
end
