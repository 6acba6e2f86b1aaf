# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # The published kits of a schema, each tied once, when it is first asked for.
      class Book
        # A version in force. key, id: of the kit; version_id, number: of the version; kit: Kit.
        Entry = Value.define(:key, :id, :version_id, :number, :kit)

        # @param entries [Array<Entry>]
        # @param schema [Schema]
        def initialize(entries, schema)
          @entries = entries.to_h { |entry| [entry.key, entry] }.freeze
          @schema = schema
          @bound = {}
          @lock = Monitor.new
        end

        # @return [Entry, nil]
        def [](key) = @entries[key]

        # @return [Array<Entry>]
        def all = @entries.values

        # @return [CompiledKit, nil] nil when there is none or it no longer fits the schema
        def compiled(key)
          @lock.synchronize do
            @bound.fetch(key) do
              entry = @entries[key]
              @bound[key] = entry &&
                CompiledKit.bind(
                  entry.kit, @schema, id: entry.id, key:, version_id: entry.version_id, number: entry.number
                )[0]
            end
          end
        end
      end
    end
  end
end
