# frozen_string_literal: true

module Yenvo
  module Core
    # How far two versions of a rule are apart.
    module RuleChanges
      module_function

      # @param one [Rule]
      # @param other [Rule]
      # @return [Integer] number of places (values, rows, actions) that differ
      def count(one, other) = differences(one.to_h, other.to_h)

      def differences(one, other)
        return 0 if one == other
        return (one.keys | other.keys).sum { |key| differences(one[key], other[key]) } if one.is_a?(Hash) && other.is_a?(Hash)
        return 1 unless one.is_a?(Array) && other.is_a?(Array) && [*one, *other].all?(Hash)

        (0...[one.size, other.size].max).sum { |i| (one[i] && other[i]) ? differences(one[i], other[i]) : 1 }
      end
      private_class_method :differences
    end
  end
end
