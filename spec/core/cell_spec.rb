# frozen_string_literal: true

RSpec.describe Yenvo::Core::Cell do
  def text(key, value, titles = {}) = described_class.text(a_schema.kind("deal").field(key), value, a_schema, titles)

  it "says values as people read them, but dates and numbers as programs do" do
    expect(text("title", "Petrel")).to eq("Petrel")
    expect(text("stage", "survey_booked")).to eq("Survey booked")
    expect(text("owner", "hollie")).to eq("Hollie Banner")
    expect(text("boat_owner", 7, {7 => "Aldo"})).to eq("Aldo")
    expect(text("value", 1234.5)).to eq("1234.5")
    expect(text("survey_date", "2026-12-03")).to eq("2026-12-03")
    expect(text("made", "2026-07-03T22:30:00.000000Z")).to eq("2026-07-03 23:30")
    expect([text("value", nil), text("owner", nil), text("made", nil)]).to eq(["", "", ""])
  end

  it "makes formulas harmless, and leaves numbers alone" do
    harmless = ->(cell) { described_class.harmless(cell) }
    ["=1+1", "+353 555", "-cmd", "@sum", "\tx", "\r=1"].each { |cell| expect(harmless.call(cell)).to eq("'#{cell}") }
    ["-5", "-5.25", "a=1", "", nil, 7].each { |cell| expect(harmless.call(cell)).to eq(cell.to_s) }
  end
end
