# frozen_string_literal: true

module Yenvo
  module Core
    # Records that lead to a record ("ticket.boat": tickets whose field boat leads here; "launch_roster.boat" for the
    # entries of a list), or its tasks ("tasks"). Counts and sums go over such.
    Relation =
      Value.define(:name, :kind, :field) do
        # The quiet door.
        # @return [Array(Relation, nil), Array(nil, String)]
        def self.find(name, kind, schema)
          return [new(name: "tasks", kind: schema.tasks, field: nil), nil] if name == "tasks"

          of, key = name.split(".", 2)
          other = schema.kind(of) || schema.list(of)
          field = other&.field(key.to_s)
          return [new(name:, kind: other, field:), nil] if field&.leads_to?(kind)

          known = names(kind, schema).join(", ")
          [nil, "must name records that lead to a #{kind.noun}: #{known}; #{name.inspect} is none"]
        end

        # @return [Array<Relation>] all that lead to a kind, and its tasks
        def self.all(kind, schema)
          found =
            schema.kinds.values.flat_map do |other|
              leading = other.links.select { |field| field.leads_to?(kind) }
              leading.map { |field| new(name: "#{other.list || other.key}.#{field.key}", kind: other, field:) }
            end
          [new(name: "tasks", kind: schema.tasks, field: nil), *found]
        end

        def self.names(kind, schema) = all(kind, schema).map(&:name)

        # @return [String] such as "Tickets (Boat)"
        def label = field ? "#{kind.plural} (#{field.label})" : "Tasks"
      end
  end
end
