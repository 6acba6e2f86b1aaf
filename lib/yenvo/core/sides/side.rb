# frozen_string_literal: true

module Yenvo
  module Core
    # The base of left sides that are no field of a record.
    class Side
      attr_reader :path, :field, :needs

      # @param path [String]
      # @param field [Schema::Field] its type and label
      # @param needs [Array<Need>]
      # @param get [Proc] from Facts to the plain value or nil
      def initialize(path, field, needs = [], &get)
        @path = path
        @field = field
        @needs = needs
        @get = Sides.given(path, get)
      end

      def label = field.label
      def links = []
      def own? = false
      def stored? = false
      def day? = false
      def getter = @get
      def before_getter = nil
    end
  end
end
