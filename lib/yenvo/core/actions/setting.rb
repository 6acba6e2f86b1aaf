# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # What one field is set to, as it is written. field: its key; by: one of WAYS; to: what stands there: a plain
      # value, a formula, a left side to copy from, true for now and for empty, a DateRule for a date.
      Setting = Value.define(:field, :by, :to) do
        # @return [Hash] as in a rule file, such as {"field" => "due", "date" => {...}}
        def to_h = {"field" => field, by => to.is_a?(DateRule) ? to.to_h : to}
      end

      Setting::WAYS = %w[value formula copy now date empty text].freeze
    end
  end
end
