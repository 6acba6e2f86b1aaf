# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # The template of one task: the fields of Schema::TaskField that stand in a kit, as in Actions::MakeTask. key: a
      # handle that stays when it is moved; after: Array of ways in, each an Array of Step all of which are needed, one
      # way being enough, empty for "at the start"; under: key of the task that it is a part of, with which it comes, or
      # nil; opens: Opening or nil.
      KitTask =
        Value.define(:key, after: [], under: nil, opens: nil, **Schema::TaskField.usual("kit")) do
          # @return [Hash] as in a kit file
          def to_h
            {
              "key" => key, **Actions::MakeTask.plain(self, "kit"),
              "under" => under,
              "after" => (after.map { |steps| steps.map(&:to_h) } unless after.empty?), "opens" => opens&.to_h
            }.compact
          end

          # @return [Actions::MakeTask] the same as an action, so that both are tied and planned alike
          def make =
            Actions::MakeTask.new(**Schema::TaskField.of("kit").to_h { |field| [field.name, self[field.name]] })
        end
    end
  end
end
