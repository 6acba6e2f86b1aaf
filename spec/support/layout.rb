# frozen_string_literal: true

require "yaml"
require_relative "layout/circles"
require_relative "layout/method_sizes"
require_relative "layout/ruby_code"
require_relative "layout/ui_code"

# Measures how the code is laid out, and holds each figure beside its bound.
class Layout
  WIDTH = 120
  ROOMS = %w[core store engine web].freeze
  # What is looked at for wide lines: all that people write, in whatever language.
  CODE = %w[
    lib/**/*.rb
    lib/**/*.yaml
    spec/**/*.rb
    demo/**/*.rb
    bench/*
    db/**/*.rb
    bin/*
    ui/src/**/*.{ts,vue,css}
  ].freeze
  DOCS = %w[*.md docs/**/*.md].freeze
  NOT_WRITTEN = ["ui/src/api/schema.d.ts", "ui/src/rule/types.d.ts"].freeze
  # Each figure's bound, by key. A bound may only fall.
  BOUNDS = File.expand_path("layout/bounds.yml", __dir__)

  # key and name: what is counted; value and most: numbers, or "median/95 %"; tight: whether the bound has to follow
  # when the value falls.
  Figure = Struct.new(:key, :name, :value, :most, :tight) do
    def fits? = numbers(value).zip(numbers(most)).all? { |found, bound| found <= bound }
    def loose? = tight && numbers(value) != numbers(most)

    private

    def numbers(text) = text.to_s.split("/").map(&:to_f)
  end

  # Arrows between files, drawn together to arrows between what a block says they belong to.
  # @param arrows [Hash] see Circles
  # @return [Hash] likewise
  def self.folded(arrows)
    together = Hash.new { |all, from| all[from] = Hash.new { |used, to| used[to] = [] } }
    arrows.each_with_object(together) do |(from, used), all|
      at = all[yield(from)]
      used.each { |to, places| at[yield(to)].concat(places) unless yield(to) == yield(from) }
    end
  end

  # @param folder [String] of the project
  # @param bounds [Hash{String => Object}]
  def initialize(folder, bounds: YAML.safe_load_file(BOUNDS))
    @folder = folder
    @bounds = bounds
  end

  # @return [Array<Figure>]
  def figures
    [
      figure("wide_code", "lines of code over #{WIDTH} columns", wide(CODE).size),
      figure("wide_docs", "lines of docs over #{WIDTH} columns", wide(DOCS).size),
      figure("tokens", "tokens of a method, median/95 %", tokens_of_methods, tight: false),
      *circles.flat_map do |room, (classes, folders)|
        [
          figure("classes_#{room}", "#{classes_of(room)} of #{room} in one circle", classes.largest.size),
          figure("folders_#{room}", "folders of #{room} in circles", folders.all.sum(&:size))
        ]
      end,
      *ROOMS.map do |room|
        figure("top_#{room}", "files at the top of #{room}", at_top(room).size, tight: false)
      end
    ]
  end

  # @return [Array<String>] what is behind the figures
  def details
    [
      "", "Longest methods", *methods.max_by(30, &:tokens).map { |one| format("%5d  %s", one.tokens, one.place) },
      "", "Widest lines", *wide(CODE + DOCS).max_by(20, &:last).map { |place, width| format("%5d  %s", width, place) }
    ]
  end

  # @return [Array<String>] each circle, and which arrows close it, each with the first place where it is drawn
  def circles_told =
    circles.flat_map do |room, (classes, folders)|
      told("#{classes_of(room).capitalize} of #{room}", classes) + told("Folders of #{room}", folders)
    end

  # @param patterns [Array<String>]
  # @return [Array<Array(String, Integer)>] place and width of each line that is too wide
  def wide(patterns = CODE)
    written(patterns).flat_map do |path|
      File.readlines(path, chomp: true).each_with_index.filter_map do |line, index|
        ["#{short(path)}:#{index + 1}", line.size] if line.size > WIDTH
      end
    end
  end

  # @return [Hash{String => Array(Circles, Circles)}] by room: of its classes and of its folders
  def circles
    @circles ||= {
      **ROOMS.to_h { |room| [room, [Circles.new(ruby.classes(room)), Circles.new(ruby.folders(room))]] },
      "ui" => [Circles.new(ui.files), Circles.new(ui.folders)]
    }
  end

  # @return [Array<String>]
  def at_top(room) = Dir[File.join(@folder, "lib/yenvo", room, "*")].select { |path| File.file?(path) }

  private

  def ruby = @ruby ||= RubyCode.new(@folder)
  def ui = @ui ||= UiCode.new(@folder)
  def classes_of(room) = (room == "ui") ? "files" : "classes"

  def figure(key, name, value, tight: true) = Figure.new(key, name, value, @bounds.fetch(key), tight)

  def told(title, circles)
    circles.all.flat_map do |names|
      closing = circles.closing(names)
      [
        "", "#{title}: a circle of #{names.size} with #{circles.inside(names)} arrows",
        *names.map { |name| bare(name) }.join(" ").scan(/.{1,110}(?: |\z)/).map { |line| "  #{line.rstrip}" },
        "  closed by #{closing.size} arrows in #{closing.sum { |_, _, places| places.size }} places:",
        *closing.map { |from, to, places| "    #{bare(from)} -> #{bare(to)}  #{places.first}#{more(places)}" }
      ]
    end
  end

  def more(places) = (" and #{places.size - 1} more" if places.size > 1)
  def bare(name) = name.sub(/\AYenvo::\w+::/, "")

  def written(patterns) =
    Dir[*patterns.map { |pattern| File.join(@folder, pattern) }].select { |path| File.file?(path) } -
      NOT_WRITTEN.map { |path| File.join(@folder, path) }

  def short(path) = path.delete_prefix("#{@folder}/")

  def tokens_of_methods
    sizes = methods.map(&:tokens).sort
    [0.5, 0.95].map { |part| sizes.empty? ? 0 : sizes[(sizes.size * part).floor] }.join("/")
  end

  def methods
    @methods ||= Dir[File.join(@folder, "lib/**/*.rb")].sort.flat_map { |path| MethodSizes.new(path, short(path)).all }
  end
end
