# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Puts the record, a linked one or one just made on a list, or takes it off.
      class ChangeList < Action
        WAYS = %w[on off].freeze
        def self.takes = {"of" => :target, "put" => :text, "list" => :text, "section" => :text}
        def self.required = %w[put list]
        def self.words = "Put on or take off a list"

        def plan(facts, now:, rule_name:)
          id = @target.find(facts) or return nothing(@target.missing)
          return [effect(Effects::TakeOffList, "Taken off #{@list.plural}", record: id, list: @list.key)] unless on?

          words = "Put on #{@list.plural}#{", #{@section.label}" if @section}"
          [effect(Effects::PutOnList, words, record: id, list: @list.key, section: @section&.key)]
        end

        def made_kind = (@list if on?)
        def shown = on? ? "Put on #{@list.plural}" : "Take off #{@list.plural}"

        private

        def on? = settings["put"] == "on"

        def prepare
          check_one_of(WAYS, settings["put"], "put")
          found = target
          @list = @schema.list(settings["list"].to_s)
          return wrong("list", "must name a list (#{@schema.kinds.values.filter_map(&:list).join(", ")})") unless @list

          plural = @list.plural
          if found && @list.about&.links_to != found.kind.key
            wrong("list", "must be a list on which #{found.kind.plural.downcase} are put; #{plural} takes #{takes}")
          end
          sections = @list.stages
          @section = sections.find { |stage| stage.key == settings["section"] }
          return if @section || settings["section"].nil?

          wrong("section", "must be a section of #{plural} (#{sections.map(&:key).join(", ")})")
        end

        def takes = @list.about ? @schema.kind(@list.about.links_to)&.plural&.downcase : "entries of its own only"
      end
    end
  end
end
