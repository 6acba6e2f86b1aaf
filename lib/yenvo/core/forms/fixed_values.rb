# frozen_string_literal: true

module Yenvo
  module Core
    # Reads the values that a form, or an address for mail, gives what it makes without asking anybody. Whoever includes
    # it has @plain, @kind and @schema, and notes with +wrong+ what cannot be used.
    module FixedValues
      private

      def fixed
        (@plain["fixed"] || {}).filter_map do |key, value|
          field = @kind.field(key)
          path = ["fixed", key]
          next wrong(path, "must be a field of #{@kind.plural}; there is none such") unless field
          next wrong(path, "must be a field that can be set; #{field.label} is kept by Yenvo") unless settable?(field)

          plain = Reading.value(field, value, @schema)
          [key, plain] unless plain.nil?
        rescue Unreadable => error
          wrong(path, "must be of use: #{error.message}")
        end.to_h
      end

      def settable?(field) = !kept?(field) || %w[title stage owner].include?(field.key)
      def kept?(field) = field.built_in || field.worked_out?

      # @param fixed [Hash] fields of a kind to values
      # @return [Set<String>] what they lean on in the set-up, as in Uses
      def fixed_uses(kind, fixed)
        all = fixed.flat_map do |key, value|
          ["field #{kind.key} #{key}", *Array(value).map { |one| fixed_use(kind, kind.field(key), one) }]
        end
        all.compact.to_set
      end

      def fixed_use(kind, field, one)
        return "stage #{kind.key} #{one}" if field.key == "stage"
        return "person #{one}" if field.type == "person"

        "choice #{kind.key} #{field.key} #{one}" if %w[choice choices].include?(field.type)
      end
    end
  end
end
