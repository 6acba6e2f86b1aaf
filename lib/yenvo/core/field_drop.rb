# frozen_string_literal: true

require "liquid"

module Yenvo
  module Core
    # A value inside a text: shows as people read it, compares as it is kept.
    class FieldDrop < Liquid::Drop
      def initialize(plain, shown)
        super()
        @plain = plain
        @shown = shown
      end

      def to_s = @shown
      def to_liquid_value = @plain
    end
  end
end
