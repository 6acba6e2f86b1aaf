# frozen_string_literal: true

module Yenvo
  module Core
    # A field of the task that an event is about, such as "task.answer". Only rules that watch tasks have one.
    class TaskSide < Side
      # @return [Array(TaskSide, nil), Array(nil, String)]
      def self.find(path, name, schema)
        field = schema.tasks.field(name.to_s)
        if field
          [new(path, field), nil]
        else
          [
            nil, "must be a field of the task (#{schema.tasks.fields.keys.map { |key| "task.#{key}" }.join(", ")}); " \
            "#{path[0, 60].inspect} is none"
          ]
        end
      end

      # @return [Array<Hash>] what there is, as the editor lists it
      def self.all(schema)
        schema.tasks.fields.each_value.map do |field|
          {
            "path" => "task.#{field.key}", "label" => "Task · #{field.label}", "type" => field.type,
            "choices" => field.choices.map(&:to_h)
          }
        end
      end

      def initialize(path, field)
        key = field.key
        super(path, field.with(key: path, label: "Task · #{field.label}")) do |facts|
          facts.event.detail["task"]&.[](key)
        end
        freeze
      end
    end
  end
end
