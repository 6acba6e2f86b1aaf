# frozen_string_literal: true

module Yenvo
  module Core
    # The shapes that plain values can have, for those who read them: each method gives the value, or nil and one more
    # Problem in +problems+.
    module Shapes
      # A group of names and values that is being read: each of its names is said once.
      class At
        # @param reader [Shapes] whose problems it adds to
        # @param plain [Hash]
        # @param path [Array] where it stands
        def initialize(reader, plain, path)
          @reader = reader
          @plain = plain
          @path = path
        end

        # @param shape [Symbol] a method of the reader that takes a value, a path and more
        # @return [Object, nil] what stands under a name
        def read(shape, name, ...) = @reader.send(shape, @plain[name], [*@path, name], ...)

        # @return [Object, nil] the same, or nil where nothing stands there
        def read?(shape, name, ...) = (read(shape, name, ...) if @plain[name])

        def text(name, most) = read(:text, name, most)
        def text?(name, most) = read?(:text, name, most)
        def one_of(name, known) = read(:one_of, name, known)
        def whole(name, least, most) = read(:whole, name, least, most)
        def yes_no(name) = read(:yes_no, name)
        def list(name, most, &each) = read(:list, name, most, &each)
      end

      private

      def wrong(path, expected, given = nil)
        shown = given.nil? ? "" : "; #{shorten(given)} is not"
        problems << Problem.at(path, expected + shown)
        nil
      end

      def not_it(path, expected, given) = wrong(path, expected, given.nil? ? "nothing" : given)

      def shorten(given) = (given.inspect.size > 50) ? "#{given.inspect[0, 49]}…" : given.inspect

      # What must not be there is told, but does not keep the rest from being read.
      # @return [Boolean] whether all that is needed is there
      def keys(plain, path, known, needed = [])
        return not_it(path, "must be a group of names and values", plain) unless plain.is_a?(Hash)

        (plain.keys - known).each do |key|
          wrong([*path, key.to_s], "must not be there; known here: #{known.join(", ")}")
        end
        (needed - plain.keys).each { |key| wrong([*path, key], "must be given") }.empty?
      end

      # @return [At] the same group of names and values, of which each name is said once
      def group_at(plain, path) = At.new(self, plain, path)

      def text(value, path, most)
        return not_it(path, "must be a text", value) unless value.is_a?(String)
        return wrong(path, "must have at most #{most} characters; this has #{value.size}") if value.size > most

        value
      end

      # For what must be there and must be something.
      # @return [Boolean]
      def filled(plain, path, names)
        names.select { |name| plain.key?(name) && plain[name].nil? }
          .each { |name| wrong([*path, name], "must be given") }.empty?
      end

      def one_of(value, path, known)
        return value if known.include?(value)

        not_it(path, (known.size == 1) ? "must be #{known[0]}" : "must be one of #{known.join(", ")}", value)
      end

      def list(value, path, most)
        return not_it(path, "must be a list", value) || [] unless value.is_a?(Array)
        return wrong(path, "must have at most #{most} items; this has #{value.size}") || [] if value.size > most

        value.each_with_index.map { |item, index| yield(item, [*path, index]) }.freeze
      end

      # @param size [Integer] characters of each at most
      def texts(value, path, most, size) = list(value, path, most) { |item, at| text(item, at, size) }

      def whole(value, path, least, most)
        return value if value.is_a?(Integer) && value.between?(least, most)

        not_it(path, "must be a whole number from #{least} to #{most}", value)
      end

      def yes_no(value, path) =
        [true, false].include?(value) ? value : wrong(path, "must be yes (true) or no (false)", value)

      def scalar(value, path)
        case value
        when String then text(value, path, Reading::MAX_TEXT)
        when Integer, Float, true, false then value
        else not_it(path, "must be a text, a number, yes (true) or no (false)", value)
        end
      end
    end
  end
end
