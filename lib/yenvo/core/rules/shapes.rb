# frozen_string_literal: true

module Yenvo
  module Core
    # The shapes that plain values can have, for those who read them: each method gives the value, or nil and one more
    # Problem in +problems+.
    module Shapes
      private

      def wrong(path, expected, given = nil)
        shown = given.nil? ? "" : "; #{shorten(given)} is not"
        problems << Problem.at(path, expected + shown)
        nil
      end

      def shorten(given) = (given.inspect.size > 50) ? "#{given.inspect[0, 49]}…" : given.inspect

      # What must not be there is told, but does not keep the rest from being read.
      # @return [Boolean] whether all that is needed is there
      def keys(plain, path, known, needed = [])
        unless plain.is_a?(Hash)
          return wrong(path, "must be a group of names and values", plain.nil? ? "nothing" : plain)
        end

        (plain.keys - known).each do |key|
          wrong([*path, key.to_s], "must not be there; known here: #{known.join(", ")}")
        end
        (needed - plain.keys).each { |key| wrong([*path, key], "must be given") }
        (needed - plain.keys).empty?
      end

      def text(value, path, most)
        return wrong(path, "must be a text", value.nil? ? "nothing" : value) unless value.is_a?(String)
        return wrong(path, "must have at most #{most} characters; this has #{value.size}") if value.size > most

        value
      end

      # For what must be there and must be something.
      # @return [Boolean]
      def filled(plain, path, names)
        names.select { |name| plain.key?(name) && plain[name].nil? }
          .each { |name| wrong([*path, name], "must be given") }.empty?
      end

      def one_of(value, path, known) =
        if known.include?(value)
          value
        else
          wrong(path, "must be one of #{known.join(", ")}", value.nil? ? "nothing" : value)
        end

      def list(value, path, most)
        return wrong(path, "must be a list", value.nil? ? "nothing" : value) || [] unless value.is_a?(Array)
        return wrong(path, "must have at most #{most} items; this has #{value.size}") || [] if value.size > most

        value.each_with_index.map { |item, index| yield(item, [*path, index]) }.freeze
      end

      def whole(value, path, least, most)
        return value if value.is_a?(Integer) && value.between?(least, most)

        wrong(path, "must be a whole number from #{least} to #{most}", value.nil? ? "nothing" : value)
      end

      def yes_no(value, path) =
        [true, false].include?(value) ? value : wrong(path, "must be yes (true) or no (false)", value)

      def scalar(value, path)
        case value
        when String then text(value, path, Reading::MAX_TEXT)
        when Integer, Float, true, false then value
        else wrong(path, "must be a text, a number, yes (true) or no (false)", value.nil? ? "nothing" : value)
        end
      end
    end
  end
end
