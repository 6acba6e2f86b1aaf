# frozen_string_literal: true

require "liquid"

module Yenvo
  module Core
    # A value inside a text: shows as people read it, compares as it is kept, and is a number or a date to filters that
    # ask for one.
    class FieldDrop < Liquid::Drop
      # @param plain [Object] plain form
      # @param shown [String]
      # @param zone [String, nil] in which moments are read
      def initialize(plain, shown, zone = nil)
        super()
        @plain = plain
        @shown = shown
        @zone = zone
      end

      # @return [Numeric, String] a number where it is one, else what it shows
      def number = @plain.is_a?(Numeric) ? @plain : @shown

      # @return [Date, Time, nil] the day, or the moment by the wall clock
      def day
        case @plain
        when Reading::DATE then Date.iso8601(@plain)
        when /\A\d{4}-\d{2}-\d{2}T[\d:.]+Z\z/ then @zone && Zone.new(@zone).local(Time.iso8601(@plain))
        end
      end

      def to_s = @shown
      def to_liquid_value = @plain
    end
  end
end
