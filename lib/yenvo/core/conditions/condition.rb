# frozen_string_literal: true

module Yenvo
  module Core
    # One test as it is written: field is a left side (see Sides) such as "boat_owner.country", test a name in
    # Operators, value what it is held against: a plain value, an Array, {"count", "unit"} for a stretch of time,
    # {"field"} for another left side, or nil where the test takes nothing; exact: whether capitals count in a text.
    Condition = Value.define(:field, :test, :value, exact: false) do
      # @return [Hash] as in a rule file
      def to_h = {"field" => field, "test" => test, "value" => value, "exact" => exact || nil}.compact

      # @return [String, nil] the left side that it is compared with
      def other = (value["field"] if value.is_a?(Hash))
    end
  end
end
