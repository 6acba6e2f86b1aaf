# frozen_string_literal: true

RSpec.describe "The layout of the house" do
  let(:layout) { Layout.new(File.expand_path("../..", __dir__)) }

  it "has no line wider than 120 columns, in whatever language" do
    expect(layout.wide.map(&:first)).to eq([])
  end

  it "has at most three classes of the store in a circle" do
    expect(layout.cycle.size).to be <= 3, "These lead to each other: #{layout.cycle.sort.join(", ")}."
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
    expect(layout.figures.reject(&:fits?).map { |figure| [figure.name, figure.value, figure.most] }).to eq([])
  end

  it "has at most twelve files at the top of a room" do
    expect(Layout::ROOMS.to_h { |room| [room, layout.at_top(room).size] }).to all(satisfy { |_, count| count <= 12 })
  end
end
