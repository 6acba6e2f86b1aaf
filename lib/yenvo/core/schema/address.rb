# frozen_string_literal: true

module Yenvo
  module Core
    class Schema
      # Somewhere outside that messages of rules go to. key: a short handle; name: as people know it; way: "board" or
      # "call"; fields: keys of the fields that a web call carries, by kind of record.
      Address =
        Value.define(:key, :name, :way, fields: {}) do
          # @return [String] under which the outbox knows it
          def destination = Address.destination(key)
        end

      class << Address
        # @return [String] under which the outbox knows the address with a key
        def destination(key) = "address/#{key}"
      end
    end
  end
end
