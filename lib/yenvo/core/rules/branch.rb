# frozen_string_literal: true

module Yenvo
  module Core
    # A numbered row of a rule's table. conditions: Group; actions: Array of MakeTask and so on, in order.
    Branch = Value.define(:conditions, :actions) do
      # @return [Hash] as in a rule file
      def to_h = {"if" => conditions.to_h, "do" => actions.map(&:to_h)}
    end
  end
end
