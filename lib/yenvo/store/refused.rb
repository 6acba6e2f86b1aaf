# frozen_string_literal: true

module Yenvo
  module Store
    # Values that cannot be kept. details[:fields] is a Hash of field key to sentence.
    class Refused < Core::Error
      def self.at(fields) = new("Nothing was saved: #{fields.values.uniq.join(" ")}", fields:)

      def fields = details.fetch(:fields, {})
    end
  end
end
