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
          words = on? ? "Put on #{@list.plural}#{", #{@section.label}" if @section}" : "Taken off #{@list.plural}"
          [effect(words, target: id, data: {"list" => @list.key, "put" => settings["put"], "section" => @section&.key})]
        end

        def made_kind = (@list if on?)
        def shown = on? ? "Put on #{@list.plural}" : "Take off #{@list.plural}"

        private

        def on? = settings["put"] == "on"

        def prepare
          wrong("put", "must be on or off") unless WAYS.include?(settings["put"])
          found = target
          @list = @schema.list(settings["list"].to_s)
          return wrong("list", "must name a list (#{@schema.kinds.values.filter_map(&:list).join(", ")})") unless @list

          wrong("list", "must be a list on which #{found.kind.plural.downcase} are put; #{@list.plural} takes #{takes}") if found && @list.about&.links_to != found.kind.key
          @section = @list.stages.find { |stage| stage.key == settings["section"] } if settings["section"]
          wrong("section", "must be a section of #{@list.plural} (#{@list.stages.map(&:key).join(", ")})") if settings["section"] && @section.nil?
        end

        def takes = @list.about ? @schema.kind(@list.about.links_to)&.plural&.downcase : "entries of its own only"
      end
    end
  end
end
