# frozen_string_literal: true

module Yenvo
  module Core
    # A value inside a text that not all who read the text may see: the text may turn on it, and never shows it.
    class VeiledDrop < FieldDrop
      # That something was to be counted with what is hidden.
      class Hidden < TextFilters::Misused; end

      # @raise [Hidden]
      def number = raise(Hidden, @shown)

      # @raise [Hidden]
      def day = raise(Hidden, @shown)
    end
  end
end
