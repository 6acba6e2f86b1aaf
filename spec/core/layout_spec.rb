# frozen_string_literal: true

require "fileutils"
require "open3"
require "tmpdir"
require "yaml"

RSpec.describe "The layout of the house" do
  folder = File.expand_path("../..", __dir__)
  bounds = "spec/support/layout/bounds.yml"
  layout = Layout.new(folder)
  let(:layout) { layout }

  it "has no line wider than 120 columns, in whatever language" do
    expect(layout.wide.map(&:first)).to eq([])
  end

  it "names the table of tasks in its own folder alone" do
    elsewhere = Dir["lib/yenvo/**/*.rb"].reject { |path| path.start_with?("lib/yenvo/store/tasks/") }
    used =
      elsewhere.flat_map do |path|
        File.readlines(path).grep_v(/^\s*#/).grep(/db\[:tasks\]|from\(:tasks\)|\b(?:FROM|INTO|UPDATE) `?tasks\b/)
          .map { |line| "#{path}: #{line.strip}" }
      end
    expect(used).to be_empty, "Ask Store::TaskRows instead: #{used.join("; ")}"
  end

  it "keeps within its bounds (bin/house prints them, --long says what is behind them)" do
    expect(layout.figures.reject(&:fits?).map { |figure| [figure.key, figure.value, figure.most] }).to eq([])
  end

  it "has bounds that follow when a figure falls" do
    loose = layout.figures.select { |figure| figure.fits? && figure.loose? }
    expect(loose).to be_empty, "Better than before; write it into #{bounds}, so that it stays: " +
      loose.map { |figure| "#{figure.key}: #{figure.value}" }.join(", ")
  end

  it "has bounds that have never been raised" do
    log, status = Open3.capture2("git", "log", "--format=%H", "--", bounds, chdir: folder, err: File::NULL)
    skip "This is no clone of a repository, so there is no history to look at." unless status.success?

    now = YAML.safe_load_file(File.join(folder, bounds))
    log.split.each do |commit|
      then_ = YAML.safe_load(Open3.capture2("git", "show", "#{commit}:#{bounds}", chdir: folder)[0])
      raised = now.select { |key, most| then_.key?(key) && numbers(most).zip(numbers(then_[key])).any? { _1 > _2 } }
      expect(raised).to be_empty, "They may only fall, and were lower at #{commit[0, 8]}: #{raised.keys.join(", ")}."
    end
  end

  def numbers(text) = text.to_s.split("/").map(&:to_f)
end

RSpec.describe Layout::RubyCode do
  around { |example| Dir.mktmpdir { |folder| example.run(@folder = folder) } }

  def write(name, text)
    path = File.join(@folder, "lib/yenvo", name)
    FileUtils.mkdir_p(File.dirname(path))
    File.write(path, "module Yenvo\n  module Store\n#{text.gsub(/^/, "    ")}\n  end\nend\n")
  end

  # @return [Hash{String => Array<String>}] which class of the store uses which
  def uses
    Layout::RubyCode.new(@folder).classes("store").to_h do |name, used|
      [name.delete_prefix("Yenvo::Store::"), used.keys.map { |one| one.delete_prefix("Yenvo::Store::") }.sort]
    end
  end

  def root(accessors) = write("store/root.rb", "class Root\n#{accessors.gsub(/^/, "  ")}\nend")

  it "follows an accessor of the root that is written over several lines" do
    root("def tasks =\n  @tasks ||=\n    begin\n      Tasks.new(self)\n    end")
    write("store/tasks/tasks.rb", "class Tasks\nend")
    write("store/records/records.rb", "class Records\n  def go = @root\n    .tasks\n    .finish\nend")
    expect(uses).to include("Records" => ["Tasks"], "Tasks" => [])
  end

  it "follows it from within blocks, and from a root that somebody else holds" do
    root("def tasks = @tasks ||= Tasks.new(self)")
    write("store/tasks/tasks.rb", "class Tasks\nend")
    write("store/records/records.rb", "class Records\n  def go = each { ->(root) { root.tasks } }\nend")
    write("store/records/links.rb", "class Links\n  def go = house.root.tasks.all\nend")
    expect(uses).to include("Records" => ["Tasks"], "Links" => ["Tasks"])
  end

  it "sees who is handed to a constructor: made there, by an accessor, in a list, or whoever makes it" do
    root("def happened =\n  @happened ||= Happened.new([links, Copies.new(self)], index: links)\n" \
      "def links = @links ||= Links.new(self)")
    %w[Happened Links Copies Helper].each { |name| write("store/records/#{name.downcase}.rb", "class #{name}\nend") }
    write("store/records/records.rb", "class Records\n  def go = Helper.new(self)\nend")
    expect(uses).to include("Happened" => %w[Copies Links], "Records" => ["Helper"], "Helper" => ["Records"])
  end

  it "takes a name for what Ruby would take it for" do
    write("store/records/query.rb", "class Query\nend")
    write("store/records/lists.rb", "class Lists\n  Query = Struct.new(:kind)\n  def go = Query.new(1)\nend")
    write("store/records/views.rb", "class Views\n  # Lists\n  def go = Store::Query.new(\"Lists\")\nend")
    expect(uses).to include("Lists" => [], "Views" => ["Query"])
  end

  it "draws classes together to folders" do
    write("store/records/lists.rb", "class Lists\n  def go = Tasks\nend")
    write("store/tasks/tasks.rb", "class Tasks\n  def go = Lists\nend")
    write("store/tasks/queues.rb", "class Queues\n  def go = Tasks\nend")
    folders = Layout::RubyCode.new(@folder).folders("store")
    expect(folders.transform_values(&:keys)).to eq("records" => ["tasks"], "tasks" => ["records"])
    expect(Layout::Circles.new(folders).largest).to eq(%w[records tasks])
  end
end

RSpec.describe Layout::UiCode do
  it "follows imports over several lines, of types, and those that are loaded later; tests are left out" do
    Dir.mktmpdir do |folder|
      {
        "parts/Box.vue" => "import {\n  one,\n} from '@/state/one'\nconst A = () => import('../pages/APage.vue')",
        "pages/APage.vue" => "import type { B } from '@/parts/Box.vue'",
        "state/one.ts" => "import 'vue'",
        "state/one.test.ts" => "import '@/pages/APage.vue'"
      }.each do |path, text|
        FileUtils.mkdir_p(File.dirname(at = File.join(folder, "ui/src", path)))
        File.write(at, text)
      end
      ui = Layout::UiCode.new(folder)
      expect(ui.files.transform_values(&:keys)).to eq(
        "parts/Box.vue" => %w[state/one.ts pages/APage.vue], "pages/APage.vue" => ["parts/Box.vue"],
        "state/one.ts" => []
      )
      expect(Layout::Circles.new(ui.folders).all).to eq([%w[pages parts]])
    end
  end
end

RSpec.describe Layout::Circles do
  def circles(arrows) = described_class.new(arrows.transform_values { |to| to.to_h { |name| [name, ["here"]] } })

  it "finds each circle, the largest first" do
    found = circles("a" => ["b"], "b" => ["c"], "c" => %w[a d], "d" => ["e"], "e" => ["d"], "f" => ["a"])
    expect([found.all, found.largest, found.inside(found.largest)]).to eq([[%w[a b c], %w[d e]], %w[a b c], 3])
  end

  it "names the arrows that close it: as few as turn it into layers" do
    layers = {"low" => [], "middle" => ["low"], "high" => %w[middle low], "top" => %w[high middle low]}
    found = circles(layers.merge("low" => ["top"]))
    expect(found.closing(found.largest)).to eq([["low", "top", ["here"]]])
  end
end
