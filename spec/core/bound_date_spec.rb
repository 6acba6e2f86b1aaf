# frozen_string_literal: true

RSpec.describe Yenvo::Core::BoundDate do
  def date_rule(count, unit, direction = "after", from = "event", at: nil, day_off: "later")
    Yenvo::Core::DateRule.new(count: count, unit: unit, direction: direction, from: from, at: at, day_off: day_off)
  end

  def bind(rule, problems = []) =
    described_class.bind(rule, a_schema.kind("deal"), a_schema, a_calendar, problems: problems)

  # @return [Array] day, time of day and moment
  def worked_out(rule, after: {}, now: Builders::NOON)
    due = bind(rule).work_out(facts(after: after), now: now)
    [due.on.iso8601, due.minutes && Yenvo::Core::ClockTime.show(due.minutes), due.moment]
  end

  it "counts working days before a date field, at a time" do
    expect(
      worked_out(
        date_rule(3, "working_days", "before", "survey_date", at: "12:00"), after: {"survey_date" => "2026-12-03"}
      )
    ).to eq(["2026-11-30", "12:00", Time.utc(2026, 11, 30, 12)])
  end

  it "rolls a day off as told, and says from where" do
    due =
      bind(date_rule(9, "days", "after", "survey_date", day_off: "earlier")).work_out(
        facts(after: {"survey_date" => "2026-12-03"}), now: Builders::NOON
      )
    expect(due).to have_attributes(on: Date.new(2026, 12, 11), moved_from: Date.new(2026, 12, 12), off: "Saturday")
  end

  it "counts weeks and months" do
    expect(worked_out(date_rule(1, "weeks"))[0]).to eq("2026-12-01")
    expect(
      worked_out(
        date_rule(3, "months", "after", "survey_date", day_off: "stays"), after: {"survey_date" => "2026-11-30"}
      )[0]
    ).to eq("2027-02-28")
  end

  it "counts hours by the clock and working hours inside the working day" do
    expect(worked_out(date_rule(20, "hours", day_off: "stays"))).to eq(
      ["2026-11-25", "08:00", Time.utc(2026, 11, 25, 8)]
    )
    expect(worked_out(date_rule(8, "working_hours"))).to eq(["2026-11-25", "10:30", Time.utc(2026, 11, 25, 10, 30)])
  end

  it "is late from the end of the day when there is no time of day" do
    expect(worked_out(date_rule(0, "days", "after", "survey_date"), after: {"survey_date" => "2026-07-01"})).to eq(
      ["2026-07-01", nil, Time.utc(2026, 7, 1, 23)]
    )
  end

  it "keeps the wall clock over the change to summer time" do
    expect(worked_out(date_rule(1, "working_days", at: "09:00"), now: Builders::NOON)[2]).to eq(
      Time.utc(2026, 11, 25, 9)
    )
    expect(
      worked_out(
        date_rule(1, "working_days", "after", "survey_date", at: "09:00"), after: {"survey_date" => "2027-03-26"}
      )[2]
    ).to eq(Time.utc(2027, 3, 30, 8))
  end

  it "has no date when the field is empty, and says so" do
    bound = bind(date_rule(1, "days", "before", "survey_date"))
    expect(bound.work_out(facts, now: Builders::NOON)).to be_nil
    expect(bound.missing).to eq("Survey date is empty")
  end

  it "refuses fields that are no dates, and a time of day beside hours" do
    problems = []
    expect(
      [
        bind(date_rule(1, "days", "before", "value"), problems), bind(date_rule(1, "hours", at: "09:00"), problems),
        bind(date_rule(1, "days", "before", "launch"), problems)
      ]
    ).to all(be_nil)
    expect(problems.map(&:text)).to match(
      [/Value is none/, /must be left out when hours are counted/, /there is no "launch"/]
    )
  end

  it "says in words what it does" do
    expect(bind(date_rule(3, "working_days", "before", "survey_date", at: "12:00")).phrase).to eq(
      "3 working days before Survey date at 12:00"
    )
    expect(bind(date_rule(1, "working_days")).phrase).to eq("1 working day after the event")
    expect(bind(date_rule(0, "days", "after", "now")).phrase).to eq("on the day of the run")
  end
end
