# frozen_string_literal: true

require "psych"

module Yenvo
  module Core
    # A YAML text as plain values, with the line on which each stands. Takes no aliases, tags or objects, and limits
    # size and depth, since files come from outside.
    class YamlLines
      MAX_DEPTH = 24
      # Some programs begin a file with a byte order mark.
      MARK = "\uFEFF"

      # Something stands deeper than it may.
      class TooDeep < StandardError
        # @return [Integer]
        attr_reader :line

        def initialize(line)
          super("too deep")
          @line = line
        end
      end

      # Counts the depth while the parser goes on, since to read what is nested without end takes time without end.
      class Shallow < Psych::TreeBuilder
        def initialize
          super
          @depth = 0
        end

        def event_location(start_line, *rest)
          @line = start_line + 1
          super
        end

        %i[start_mapping start_sequence].each do |name|
          define_method(name) do |*given|
            raise TooDeep.new(@line) if (@depth += 1) > MAX_DEPTH

            super(*given)
          end
        end

        %i[end_mapping end_sequence].each do |name|
          define_method(name) do
            @depth -= 1
            super()
          end
        end
      end
      private_constant :Shallow

      attr_reader :plain

      # @param source [String]
      # @raise [InvalidRule] when it is no YAML, too large or too deep
      def initialize(source)
        if source.bytesize > Rule::LIMITS[:bytes]
          refuse([], "must have at most #{Show.count(Rule::LIMITS[:bytes])} bytes", nil)
        end
        source = source.dup.force_encoding(Encoding::UTF_8)
        refuse([], "must be UTF-8 text", nil) unless source.valid_encoding?

        @lines = {}
        @plain = build(document(source.delete_prefix(MARK)).root, [])
      rescue TooDeep => error
        refuse([], "must be nested at most #{MAX_DEPTH} deep", error.line)
      rescue Psych::SyntaxError => error
        refuse([], "must be YAML: #{error.problem} #{error.context}".strip, error.line)
      end

      # @param problems [Array<Problem>]
      # @return [Array<Problem>] the same with lines; a missing place has the line of what it is missing from
      def place(problems)
        problems.map { |problem| problem.line ? problem : problem.with(line: line_of(problem.path)) }
      end

      private

      def document(source)
        builder = Shallow.new
        parser = Psych::Parser.new(builder)
        parser.parse(source)
        documents = builder.root.children
        refuse([], "must hold a rule; the file is empty", 1) if documents.empty?
        refuse([], "must hold one document; another begins here", documents[1].start_line + 1) if documents.size > 1

        documents[0]
      end

      def line_of(path)
        path = path[0...-1] until @lines.key?(path) || path.empty?
        @lines[path]
      end

      def refuse(path, text, line) = raise(InvalidRule.new([Problem.new(path:, text:, line:)]))

      def build(node, path)
        refuse(path, "must be nested at most #{MAX_DEPTH} deep", node.start_line + 1) if path.size > MAX_DEPTH
        @lines[path] = node.start_line + 1
        case node
        when Psych::Nodes::Mapping
          mapping(node, path)
        when Psych::Nodes::Sequence
          node.children.each_with_index.map { |child, index| build(child, [*path, index]) }
        when Psych::Nodes::Scalar
          scalar(node)
        else
          refuse(path, "must be written out; aliases are not taken", node.start_line + 1)
        end
      end

      def mapping(node, path)
        node.children.each_slice(2).each_with_object({}) do |(key, child), found|
          refuse(path, "must have plain names", key.start_line + 1) unless key.is_a?(Psych::Nodes::Scalar)
          refuse([*path, key.value], "must be given once", key.start_line + 1) if found.key?(key.value)

          found[key.value] = build(child, [*path, key.value])
          @lines[[*path, key.value]] = key.start_line + 1
        end
      end

      # A number beyond all bounds is a text, and so none.
      def finite(text) = text.to_f.then { |number| number.finite? ? number : text }

      # Dates stay texts; only numbers, true, false and null are read as such.
      def scalar(node)
        return node.value if node.quoted || node.tag

        case node.value
        when /\A[-+]?(0|[1-9]\d{0,17})\z/ then node.value.to_i
        when /\A[-+]?\d{1,18}\.\d{1,18}(e[-+]?\d{1,3})?\z/i then finite(node.value)
        when "true", "yes" then true
        when "false", "no" then false
        when "", "null", "~" then nil
        else node.value
        end
      end
    end
  end
end
