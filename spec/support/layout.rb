# frozen_string_literal: true

require "ripper"
require "tsort"

# Measures how the code is laid out: wide lines, sizes of methods, cycles among the classes of the store, and how many
# files stand at the top of a room.
class Layout
  WIDTH = 120
  ROOMS = %w[core store engine web].freeze
  # What is looked at for wide lines: all that people write, in whatever language.
  WRITTEN = %w[
    lib/**/*.rb
    lib/**/*.yaml
    spec/**/*.rb
    demo/**/*.rb
    bench/*
    db/**/*.rb
    bin/*
    ui/src/**/*.{ts,vue,css}
  ].freeze
  NOT_WRITTEN = ["ui/src/api/schema.d.ts", "ui/src/rule/types.d.ts"].freeze
  # Tokens that say nothing: blanks, line ends, comments.
  SILENT = %i[on_sp on_nl on_ignored_nl on_comment on_embdoc on_embdoc_beg on_embdoc_end].freeze

  # name: what is counted; value and most: numbers, or "median/95 %".
  Figure = Struct.new(:name, :value, :most) do
    def fits? = numbers(value).zip(numbers(most)).all? { |found, bound| found <= bound }

    private

    def numbers(text) = text.to_s.split("/").map(&:to_f)
  end

  # One method: where it stands, and how many tokens it has.
  Sized = Struct.new(:place, :tokens)

  # @param folder [String] of the project
  def initialize(folder)
    @folder = folder
  end

  # @return [Array<Figure>]
  def figures
    sizes = methods.map(&:tokens).sort
    [
      Figure.new("lines over #{WIDTH} columns", wide.size, 0),
      Figure.new(
        "tokens of a method, median/95 %", [0.5, 0.95].map { |part| sizes[(sizes.size * part).floor] }.join("/"),
        "36/150"
      ),
      Figure.new("largest cycle of classes in the store", cycle.size, 3),
      *ROOMS.map { |room| Figure.new("files at the top of #{room}", at_top(room).size, 12) }
    ]
  end

  # @return [Array<String>] what is behind the figures
  def details
    ["", "Longest methods", *methods.max_by(30, &:tokens).map { |one| format("%5d  %s", one.tokens, one.place) },
      "", "Widest lines", *wide.max_by(20) { |_, width| width }.map { |place, width| format("%5d  %s", width, place) },
      "", "Largest cycle", cycle.sort.join(" ")]
  end

  # @return [Array<Array(String, Integer)>] place and width of each line that is too wide
  def wide
    @wide ||= written.flat_map do |path|
      File.readlines(path, chomp: true).each_with_index.filter_map do |line, index|
        ["#{short(path)}:#{index + 1}", line.size] if line.size > WIDTH
      end
    end
  end

  # @return [Array<String>] names of the classes in the largest circle of classes of the store that lead to each other
  def cycle =
    @cycle ||= graph.strongly_connected_components.max_by(&:size).then { |found| (found.size > 1) ? found : [] }

  # @return [Array<String>]
  def at_top(room) = Dir[File.join(@folder, "lib/yenvo", room, "*")].select { |path| File.file?(path) }

  private

  def written =
    Dir[*WRITTEN.map { |pattern| File.join(@folder, pattern) }].select { |path| File.file?(path) } -
      NOT_WRITTEN.map { |path| File.join(@folder, path) }

  def short(path) = path.delete_prefix("#{@folder}/")

  def methods
    @methods ||=
      Dir[File.join(@folder, "lib/**/*.rb")].sort.flat_map do |path|
        lines = File.readlines(path)
        definitions(RubyVM::AbstractSyntaxTree.parse(lines.join)).map do |node|
          Sized.new("#{short(path)}:#{node.first_lineno} #{name_of(node)}", tokens(lines, node))
        end
      end
  end

  def definitions(node)
    return [] unless node.is_a?(RubyVM::AbstractSyntaxTree::Node)

    (%i[DEFN DEFS].include?(node.type) ? [node] : []) + node.children.flat_map { |child| definitions(child) }
  end

  def name_of(node) = node.children.find { |child| child.is_a?(Symbol) }

  def tokens(lines, node)
    text = lines[node.first_lineno - 1..node.last_lineno - 1].join
    Ripper.lex(text).count { |_, kind, _| !SILENT.include?(kind) }
  end

  # The classes of the store, each with those that it names or asks the root for.
  def graph
    paths = Dir[File.join(@folder, "lib/yenvo/store/**/*.rb")].reject { |path| path.end_with?("/root.rb") }
    names = paths.to_h { |path| [File.basename(path, ".rb").split("_").map(&:capitalize).join, path] }
    asked = File.read(File.join(@folder, "lib/yenvo/store/root.rb")).scan(/def (\w+) = @\w+ \|\|= (\w+)\.new/).to_h
    edges = names.to_h { |name, path| [name, leads_to(File.read(path), names, asked) - [name]] }
    Graph.new(edges)
  end

  def leads_to(source, names, asked)
    code = source.gsub(/^\s*#.*$/, "")
    (code.scan(/(?<![:\w])[A-Z]\w+/) & names.keys) +
      code.scan(/\broot\.(\w+)/).flatten.filter_map { |word| asked[word] }
  end

  # Names with those that each leads to.
  class Graph
    include TSort

    def initialize(edges)
      @edges = edges
    end

    def tsort_each_node(&block) = @edges.each_key(&block)
    def tsort_each_child(node, &block) = @edges.fetch(node, []).each(&block)
  end
end
