# frozen_string_literal: true

RSpec.describe Yenvo::Core::Calendar do
  let(:calendar) { a_calendar }

  def day(text) = Date.iso8601(text)

  it "knows public holidays, weekends and days typed in" do
    expect(calendar.off_because(day("2026-10-26"))).to eq("October Bank Holiday")
    expect(calendar.off_because(day("2026-11-28"))).to eq("Saturday")
    expect(calendar.off_because(day("2026-12-29"))).to eq("Yard shut")
    expect(calendar.off_because(day("2026-11-24"))).to be_nil
  end

  it "counts working days over weekends and the yard's rest, both ways" do
    expect(calendar.add_working_days(day("2026-11-27"), 1)).to eq(day("2026-11-30"))
    expect(calendar.add_working_days(day("2026-12-23"), 1)).to eq(day("2027-01-04"))
    expect(calendar.add_working_days(day("2027-01-04"), -1)).to eq(day("2026-12-23"))
    expect(calendar.add_working_days(day("2026-11-28"), 0)).to eq(day("2026-11-28"))
    expect(calendar.add_working_days(day("2026-11-28"), 1)).to eq(day("2026-11-30"))
  end

  it "goes back as many working days as it went forward" do
    for_many(200) do |chance|
      start = calendar.roll(day("2026-01-05") + chance.some((0..700).to_a), "later")
      count = chance.some((1..60).to_a)
      there = calendar.add_working_days(start, count)
      expect(calendar.add_working_days(there, -count)).to eq(start)
      expect(calendar.working_days(start, there)).to eq(count)
    end
  end

  it "rolls a day off later, earlier or not at all" do
    saturday = day("2026-12-12")
    expect(%w[later earlier stays].map { |way| calendar.roll(saturday, way) }).to eq(
      [day("2026-12-14"), day("2026-12-11"), saturday]
    )
  end

  it "keeps the day of the month or takes the last" do
    expect(calendar.add_months(day("2027-01-31"), 1)).to eq(day("2027-02-28"))
    expect(calendar.add_months(day("2028-01-31"), 1)).to eq(day("2028-02-29"))
    expect(calendar.add_months(day("2026-11-24"), -12)).to eq(day("2025-11-24"))
  end

  it "counts working time inside the working day only" do
    friday = Time.utc(2026, 11, 27, 16, 30)
    expect(calendar.add_working_minutes(friday, 120)).to eq(Time.utc(2026, 11, 30, 9))
    expect(calendar.add_working_minutes(Time.utc(2026, 11, 28, 3), 60)).to eq(Time.utc(2026, 11, 30, 9))
    expect(calendar.working_minutes(friday, Time.utc(2026, 11, 30, 9))).to eq(120)
    expect(calendar.working_minutes(Time.utc(2026, 11, 30, 9), friday)).to eq(0)
  end

  it "says at once that there is no working day, instead of looking for ever" do
    idle = described_class.new(hours: {})
    expect { idle.add_working_days(day("2026-11-24"), 1) }.to raise_error(
      Yenvo::Core::Error, /no day to work within ten years/
    )
    expect { idle.add_working_minutes(Time.utc(2026, 11, 24), 1) }.to raise_error(Yenvo::Core::Error, /no time to work/)
  end

  it "knows who is away until when" do
    calendar = a_calendar(absences: {"callum" => [[day("2026-11-20"), day("2026-11-27")]]})
    expect(calendar.away_until("callum", day("2026-11-24"))).to eq(day("2026-11-27"))
    expect(calendar.away_until("callum", day("2026-11-28"))).to be_nil
  end
end

RSpec.describe Yenvo::Core::Zone do
  {
    "Europe/Dublin" => [Date.new(2027, 3, 28), 60 + 30, Time.utc(2027, 3, 28, 1, 30)],
    "America/New_York" => [Date.new(2027, 3, 14), 120 + 30, Time.utc(2027, 3, 14, 7, 30)],
    "Australia/Lord_Howe" => [Date.new(2026, 10, 4), 120 + 15, Time.utc(2026, 10, 3, 15, 45)]
  }.each do |name, (date, minutes, moment)|
    it "moves a wall-clock time that spring skips in #{name} on by the gap" do
      expect(described_class.new(name).at(date, minutes)).to eq(moment)
    end
  end

  it "takes the first of a wall-clock time that autumn doubles" do
    expect(described_class.new("Europe/Dublin").at(Date.new(2026, 10, 25), 90)).to eq(Time.utc(2026, 10, 25, 0, 30))
    expect(described_class.new("America/New_York").at(Date.new(2026, 11, 1), 90)).to eq(Time.utc(2026, 11, 1, 5, 30))
  end

  it "says that there is no such zone" do
    expect { described_class.new("Europe/Fennick") }.to raise_error(
      Yenvo::Core::Error, %r{no time zone "Europe/Fennick"}
    )
  end
end
