# frozen_string_literal: true

RSpec.describe "The layout of the house" do
  let(:layout) { Layout.new(File.expand_path("../..", __dir__)) }

  it "has no line wider than 120 columns, in whatever language" do
    expect(layout.wide.map(&:first)).to eq([])
  end

  it "has at most twelve files at the top of a room" do
    expect(Layout::ROOMS.to_h { |room| [room, layout.at_top(room).size] }).to all(satisfy { |_, count| count <= 12 })
  end
end
