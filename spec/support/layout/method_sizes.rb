# frozen_string_literal: true

require "prism"

class Layout
  # How long the methods of a file are, in tokens.
  class MethodSizes < Prism::Visitor
    # Tokens that say nothing: line ends, comments, blanks between words.
    SILENT = %i[NEWLINE IGNORED_NEWLINE COMMENT EMBDOC_BEGIN EMBDOC_LINE EMBDOC_END WORDS_SEP EOF].freeze
    # One method: where it stands, and how many tokens it has.
    Sized = Struct.new(:place, :tokens)

    # @return [Array<Sized>]
    attr_reader :all

    # @param path [String] of a file of Ruby
    # @param name [String] what the file is called where a place is told
    def initialize(path, name)
      super()
      @name = name
      @all = []
      tree, tokens = Prism.parse_lex_file(path).value
      @starts = tokens.filter_map { |token, _| token.location.start_offset unless SILENT.include?(token.type) }
      tree.accept(self)
    end

    def visit_def_node(node)
      at = node.location
      @all << Sized.new("#{@name}:#{at.start_line} #{node.name}", before(at.end_offset) - before(at.start_offset))
      super
    end

    private

    def before(offset) = @starts.bsearch_index { |start| start >= offset } || @starts.size
  end
end
