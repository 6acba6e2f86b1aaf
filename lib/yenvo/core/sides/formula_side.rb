# frozen_string_literal: true

module Yenvo
  module Core
    # A left side that is worked out, written "= count(ticket.boat, stage != 'closed')".
    class FormulaSide < Side
      # @return [Array(FormulaSide, nil), Array(nil, String)]
      def self.find(path, kind, schema)
        problems = []
        formula = Formula.bind(path.delete_prefix("="), kind, schema, problems:)
        formula ? [new(path, formula), nil] : [nil, problems[0].text]
      end

      def initialize(path, formula)
        @formula = formula
        super(path, Schema::Field.of(path, formula.source.strip, formula.type), formula.needs) do |facts|
          formula.call(facts, facts.after)
        end
        freeze
      end

      def day? = @formula.day?
    end
  end
end
