# frozen_string_literal: true

module Yenvo
  module Core
    # Left sides of conditions: a field of the record or of a linked one ("boat_owner.country"), a value before the
    # event ("before.stage"), something about the event ("event.who"), the task it is about
    # ("task.answer"), today, or a formula ("= value - deposit").
    # Each answers path, field (type, choices, label), label, getter, before_getter, needs, own?, stored? and day?.
    module Sides
      ROOTS = %w[event task before today].freeze

      module_function

      # The quiet door: nil and a sentence when the path leads nowhere.
      # @param path [String]
      # @param kind [Schema::Kind]
      # @param schema [Schema]
      # @param event [Event-like trigger, nil] the trigger, which says what an event has
      # @return [Array(Object, nil), Array(nil, String)]
      def find(path, kind, schema)
        root, rest = path.to_s.split(".", 2)
        if path.to_s.start_with?("=") then FormulaSide.find(path, kind, schema)
        elsif root == "event" then EventSide.find(path, rest, schema, kind)
        elsif root == "task" && rest then TaskSide.find(path, rest, schema)
        elsif root == "before" then BeforeSide.find(path, rest, kind)
        elsif path == "today" then [TodaySide.new(schema), nil]
        else Reference.find(path, kind, schema)
        end
      end

      # @param get [Proc]
      # @return [Proc] the same, but for facts in which the value is given
      def given(path, get)
        ->(facts) { facts.given&.key?(path) ? facts.given[path] : get.call(facts) }
      end
    end
  end
end
