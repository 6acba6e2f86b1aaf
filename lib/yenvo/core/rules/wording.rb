# frozen_string_literal: true

module Yenvo
  module Core
    # Pieces of a rule in words, also of one that is not whole yet.
    class Wording
      # @param kind [Schema::Kind, nil] nil where the kind of record is gone
      def initialize(kind, schema)
        @kind = kind
        @schema = schema
      end

      # @param item [Condition, Group]
      # @return [String] such as "Boat length at least 12 m" or "any of (…; …)"
      def condition(item)
        return "#{item.mode} of (#{item.items.map { |one| condition(one) }.join("; ")})" if item.is_a?(Group)

        bound = @kind && BoundCondition.bind(item, @kind, @schema)
        if bound
          "#{bound.label} #{bound.phrase}"
        else
          [item.field, item.test.tr("_", " "), plain(item.value)].compact.join(" ")
        end
      end

      # @param trigger [Hash]
      # @return [String]
      def trigger(trigger)
        return trigger["any"].map { |one| self.trigger(one) }.join(", or ") if trigger["any"]

        type = Triggers.all[trigger["when"]]
        return "" unless type

        (@kind && Triggers.bind(trigger, @kind, @schema))&.sentence || type.words
      end

      ALL = (1..Rule::LIMITS[:actions]).to_a.freeze
      private_constant :ALL

      # @param action [Actions::MakeTask, Actions::Doing]
      # @return [String] such as "Make a task: Call the owner"
      def action(action)
        if action.is_a?(Actions::MakeTask)
          return "Make a task: #{@kind ? Text.shown(action.title, @kind, @schema) : action.title}"
        end

        bound =
          @kind && Actions.bind(action, @kind, @schema, tasks: ALL, papers: ALL, watches_task: true)
        bound ? bound.shown : Actions.all.fetch(action.name).words
      end

      # @param value [Object] plain or a value class
      # @return [String, nil]
      def plain(value)
        case value
        when nil
          nil
        when Value
          plain(value.to_h)
        when Hash
          value.filter_map { |name, one| one.nil? ? nil : "#{name.to_s.tr("_", " ")} #{plain(one)}" }.join(", ")
        when Array
          value.map { |one| plain(one) }.join(", ")
        when true
          "yes"
        when false
          "no"
        else
          value.to_s
        end
      end
    end
  end
end
