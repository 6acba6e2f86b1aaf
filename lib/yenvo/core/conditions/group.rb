# frozen_string_literal: true

module Yenvo
  module Core
    # Conditions that hold together: all of them, any of them, none of them. Items are Conditions and Groups.
    Group = Value.define(:mode, :items) do
      # @return [Group] the one that always holds
      def self.always = @always ||= new(mode: "all", items: [].freeze)

      # @return [Hash] as in a rule file
      def to_h = {mode => items.map(&:to_h)}
    end

    # The ways in which conditions hold together.
    Group::MODES = %w[all any none].freeze
  end
end
