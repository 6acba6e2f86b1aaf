# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # Another value than before the event; in a new record, every filled-in field has changed.
      class Changed < Operator
        def takes = :nothing
        def types = Schema::TYPES
        def side = :both

        def compile(get, _operand, before, **) = ->(facts) { get.call(facts) != before.call(facts) }
        def edges(_operand) = []
      end
    end
  end
end
