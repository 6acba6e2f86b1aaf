# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Uses a kit on the record, on a linked one or on one just made. On the record itself its first tasks are planned
      # at once; on another they are when the run is written, since that record has to be looked at first.
      class UseKit < Action
        def self.takes = {"kit" => :text, "of" => :target}
        def self.required = %w[kit]
        def self.words = "Use a kit"

        # @return [Kits::CompiledKit]
        attr_reader :kit

        def plan(facts, now:, rule_name:)
          id = @target.find(facts) or return nothing(@target.missing)
          return [begin_later(id, facts)] unless @target.own?

          anchor = kit.anchor(facts, now:)
          tasks = kit.come(kit.at_start, facts, now:, anchor:)
          notes = anchor.nil? ? ["no dates that count from #{kit.field.label}: it is empty"] : past(tasks, now)
          words = "Kit “#{kit.kit.name}”: #{tasks.size} of #{kit.tasks.size} tasks at the start"
          [effect(Effects::BeginKit, words, record: id, kit:, anchor:, tasks:, notes:)]
        end

        def shown = "Use the kit #{kit ? kit.kit.name : settings["kit"]}"

        private

        def begin_later(id, facts) =
          effect(Effects::BeginKit, "Kit “#{kit.kit.name}”#{@target.words(facts)}", record: id, kit:)

        # @return [Array<String>] what there is to say of dates that are over already
        def past(tasks, now)
          late = tasks.select { |task| task.due && task.due.moment <= now }
          late.map { |task| "“#{task.title}” is late from the start: #{Show.date(task.due.on)} is past" }
        end

        def prepare
          found = target
          key = settings["kit"].to_s
          entry = @schema.kits[key]
          return wrong("kit", no_kit(key)) unless entry

          name = "“#{entry.kit.name}”"
          @kit = @schema.kits.compiled(key)
          return wrong("kit", "must be a kit that fits the set-up; #{name} does not any more") unless @kit
          if found && found.kind.key != @kit.kind.key
            return wrong("kit", "must be a kit for a #{found.kind.noun}; #{name} is for a #{@kit.kind.noun}")
          end

          @needs += @kit.needs if found&.own?
        end

        def no_kit(key)
          return "must say which kit" if key.empty?

          "must be a published kit (#{@schema.kits.all.map(&:key).first(20).join(", ")}); #{Show.quoted(key)} is none"
        end
      end
    end
  end
end
