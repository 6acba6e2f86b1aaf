# frozen_string_literal: true

module Yenvo
  module Core
    # What is left of what was kept about a record that is erased: that something happened, when, by whom and at which
    # stage, so that figures stay right; no word of what it said.
    module Blanked
      GONE = ErasedWords::GONE
      # Of an image: what Yenvo keeps by itself, the stage and who had it.
      KEPT = (Schema::Kind::KEPT_BY_YENVO + %w[id stage owner creator visit version made]).uniq.freeze
      # Of what was said of something that happened: codes, and moments, by which the story is told.
      CODES = %w[
        way timer state priority list kind assignee queue was edited changed action answers branch purpose
      ].freeze
      MOMENTS = %w[due due_on due_at from to was_at].freeze
      MOMENT = /\A(?:\d{4}-\d\d-\d\d(?:T[\d:.]+Z)?|\d\d:\d\d)\z/
      private_constant :KEPT, :CODES, :MOMENTS, :MOMENT

      module_function

      # @param image [Hash, nil] of a record
      # @return [Hash, nil]
      def image(image) = image&.slice(*KEPT)&.merge(image.slice("title").transform_values { GONE })

      # @param value [Object] plain
      # @param name [String, nil] under which it stands
      # @return [Object] the same with every text in it gone but for codes and moments
      def said(value, name = nil)
        case value
        when String then stays?(name, value) ? value : GONE
        when Array then value.map { |one| said(one, name) }
        when Hash then value.to_h { |key, one| [key, said(one, key)] }
        else value
        end
      end

      def stays?(name, text) = CODES.include?(name) || (MOMENTS.include?(name) && text.match?(MOMENT))
    end
  end
end
