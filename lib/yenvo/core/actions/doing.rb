# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # An action as it is written, of any kind but making a task. name: in Actions.all; settings: Hash of the settings
      # that kind takes, with Groups, DateRules and Settings read.
      Doing = Value.define(:name, :settings) do
        # @return [Hash] as in a rule file
        def to_h = {"action" => name, **settings.transform_values { |value| plain(value) }}

        private

        def plain(value)
          case value
          when Array then value.map { |one| plain(one) }
          when Value then value.to_h
          else value
          end
        end
      end
    end
  end
end
