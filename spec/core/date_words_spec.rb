# frozen_string_literal: true

RSpec.describe Yenvo::Core::DateWords do
  # Tuesday 24 November 2026, noon in Dublin.
  def read(text, now: Builders::NOON) =
    described_class.read(text, now:, calendar: a_calendar)
      &.then { |found| [found.on.iso8601, found.minutes && Yenvo::Core::ClockTime.show(found.minutes)] }

  it "reads days by their names, as the next ones to come" do
    {
      "today" => "2026-11-24", "Tomorrow" => "2026-11-25", "friday" => "2026-11-27", "Fri" => "2026-11-27",
      "on monday" => "2026-11-30", "tuesday" => "2026-12-01", "next friday" => "2026-12-04",
      "next week" => "2026-11-30", "next month" => "2026-12-01", "end of the week" => "2026-11-27",
      "end of month" => "2026-11-30", "next working day" => "2026-11-25"
    }.each { |text, day| expect([text, read(text)]).to eq([text, [day, nil]]) }
  end

  it "counts days, working days, weeks, months, and by the clock" do
    {
      "in 2 working days" => ["2026-11-26", nil], "in two working days" => ["2026-11-26", nil],
      "in 3 days" => ["2026-11-27", nil], "in a week" => ["2026-12-01", nil], "in 1 month" => ["2026-12-24", nil],
      "in 30 minutes" => %w[2026-11-24 12:30], "in 2 hours" => %w[2026-11-24 14:00],
      "in 7 working hours" => %w[2026-11-25 09:30], "in 3 wd" => ["2026-11-27", nil]
    }.each { |text, found| expect([text, read(text)]).to eq([text, found]) }
  end

  it "reads dates, with the year that comes next where none is named" do
    {
      "3 Dec" => "2026-12-03", "Dec 3" => "2026-12-03", "3rd of December" => "2026-12-03",
      "Thu 3 Dec 2026" => "2026-12-03", "1 March" => "2027-03-01", "2027-02-28" => "2027-02-28",
      "the 15th" => "2026-12-15", "30" => "2026-11-30", "31." => "2026-12-31"
    }.each { |text, day| expect([text, read(text)]).to eq([text, [day, nil]]) }
  end

  it "takes a time of day with any of them, or alone" do
    {
      "Friday 9:00" => %w[2026-11-27 09:00], "tomorrow at 14" => %w[2026-11-25 14:00],
      "3 Dec 5pm" => %w[2026-12-03 17:00], "monday, 8.30" => %w[2026-11-30 08:30],
      "in 2 days at 10:15" => %w[2026-11-26 10:15], "15:00" => %w[2026-11-24 15:00], "9:00" => %w[2026-11-25 09:00],
      "12am tomorrow" => nil, "tomorrow 12am" => %w[2026-11-25 00:00]
    }.each { |text, found| expect([text, read(text)]).to eq([text, found]) }
  end

  it "reads nothing else, and never fails" do
    [
      "", "soon", "in 2 blue moons", "friday 25:00", "32 Dec", "30 feb", "in 9999 days", "x" * 500, "2026-13-01",
      "tomorrow 13pm", "in 999 months"
    ].each { |text| expect([text, (read(text) unless text == "in 999 months")]).to eq([text, nil]) }
    for_many(200) do |chance|
      expect {
        read(
          Array.new(4) { chance.some(%w[in 2 friday dec at 9:99 working days next 31 of 2026-02-30 pm a]) }.join(" ")
        )
      }.not_to raise_error
    end
  end
end
