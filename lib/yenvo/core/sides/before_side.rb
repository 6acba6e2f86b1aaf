# frozen_string_literal: true

module Yenvo
  module Core
    # A field of the record as it was before the event: "before.stage".
    class BeforeSide < Side
      # @return [Array(BeforeSide, nil), Array(nil, String)]
      def self.find(path, key, kind)
        field = kind.field(key.to_s)
        if field.nil? || field.worked_out?
          return [
            nil,
            "must name a field that is kept with the #{kind.noun}, such as before.stage; #{key.to_s.inspect} is none"
          ]
        end

        [new(path, field), nil]
      end

      def initialize(path, field)
        key = field.key
        super(path, field.with(label: "#{field.label} before")) { |facts| facts.before[key] }
        freeze
      end
    end
  end
end
