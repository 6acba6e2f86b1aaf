# frozen_string_literal: true

RSpec.describe Yenvo::Core::Patterns do
  it "has at least twenty over all groups and the four kinds, each with its need" do
    all = described_class.all
    expect(all.size).to be >= 20
    expect(all.map(&:group).uniq).to eq(described_class::GROUPS)
    expect(all.map { |one| one.rule.kind.split("/").first }.uniq).to match_array(%w[contact deal ticket entry])
    expect(all.map(&:need)).to all(match(/\A[A-Z].{20,100}\.\z/))
    expect(all.count { |one| one.group == "telling" }).to be >= 8
    expect(all.map { |one| one.rule.name }.uniq.size).to eq(all.size)
  end
end
