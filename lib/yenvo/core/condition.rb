# frozen_string_literal: true

module Yenvo
  module Core
    # One test as it is written: field is a path such as "boat_owner.country", test a name in Operators,
    # value what it is held against (nil where the test takes nothing).
    Condition = Value.define(:field, :test, :value) do
      # @return [Hash] as in a rule file
      def to_h = {"field" => field, "test" => test, "value" => value}.compact
    end
  end
end
