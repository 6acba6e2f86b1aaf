# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Sets fields of the record, of a linked one or of one just made.
      class SetFields < Action
        def self.takes = {"of" => :target, "values" => :settings}
        def self.required = %w[values]
        def self.words = "Set fields"
        def self.before_save? = true

        def own_only? = @target&.own?

        def plan(facts, now:, rule_name:)
          id = @target.find(facts) or return nothing(@target.missing)
          read = read_there(facts, @target)
          worked = @settings.map { |setting| [setting.field, *setting.work_out(read, now:, rule_name:)] }
          said = worked.map { |field, value, _| said(field, value, facts) }.join("; ")
          values = worked.to_h { |field, plain, _| [field.key, plain] }
          [effect(Effects::ChangeRecord, said, record: id, anew: anew(facts), values:,
            notes: worked.filter_map(&:last))]
        end

        # @return [Hash{String => Proc}, nil] by field, how its value is worked out when it is written (see
        #   BoundSetting#anew)
        def anew(facts)
          return if !@target.own? || @kind.task?

          found = @settings.to_h { |setting| [setting.field.key, setting.anew(facts)] }.compact
          found unless found.empty?
        end

        def shown = "Set #{@settings.map { |setting| setting.field.label }.join(", ")}"

        private

        def said(field, value, facts)
          of = @target.words(facts)
          @target.told? ? "#{field.label}#{of} is set to #{show(field, value, facts)}" : "#{field.label}#{of} is set"
        end

        def prepare
          wrong("values", "must set at least one field") if settings["values"].to_a.empty?
          found = target or return @settings = []
          @settings = fields_set(found.kind)
          twice = @settings.group_by { |one| one.field.key }.find { |_, all| all.size > 1 }
          wrong("values", "must set each field once; #{twice[1][0].field.label} stands there twice") if twice
        end
      end
    end
  end
end
