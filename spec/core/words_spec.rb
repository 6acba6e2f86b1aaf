# frozen_string_literal: true

RSpec.describe Yenvo::Core::Words do
  it "takes texts apart into different words, in small letters and without accents" do
    expect(described_class.of("Café du Nord, café!", nil, "AB-12 (2)")).to eq(%w[cafe du nord ab 12 2])
    expect(described_class.of("x" * 50)).to eq(["x" * 32])
  end

  it "says whether each word that is asked for begins one of the texts" do
    all = ->(asked, *texts) { described_class.all_in?(described_class.of(asked), *texts) }
    expect([all.call("caf nor", "Le Café", "du nord"), all.call("afe", "Café"), all.call("x(", "x")]).to eq(
      [true, false, true]
    )
    expect(described_class.any_in?(%w[zebra teak], "Teak decks")).to be(true)
  end

  it "shows the place at which it was found, from a word on, in one line" do
    text = "#{"Long before. " * 20}He wants\nteak decks. #{"And more. " * 40}"
    around = described_class.around(%w[teak], text)
    expect(around).to match(/\A…before\. .*He wants teak decks\. And more\..*…\z/).and(satisfy { |one| one.size < 190 })
    expect(described_class.around(%w[none], "Short.")).to eq("Short.")
    expect(described_class.around(%w[teak], "Teak#{"x" * 300}")).to start_with("Teak")
  end
end
