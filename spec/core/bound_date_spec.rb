# frozen_string_literal: true

RSpec.describe Yenvo::Core::BoundDate do
  def date_rule(count, unit, direction = "after", from = "event", at: nil, day_off: "later")
    Yenvo::Core::DateRule.new(count:, unit:, direction:, from:, at:, day_off:)
  end

  def bind(rule, problems = []) =
    described_class.bind(rule, a_schema.kind("deal"), a_schema, a_calendar, problems:)

  # @return [Array] day, time of day and moment
  def worked_out(rule, after: {}, now: Builders::NOON)
    due = bind(rule).work_out(facts(after:), now:)
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

  describe "the first such day on or after" do
    def first(day, from: "2026-12-03", at: nil, day_off: "stays", count: 0)
      rule = date_rule(count, "days", "after", "survey_date", at:, day_off:).with(first: day)
      worked_out(rule, after: {"survey_date" => from}).first(2)
    end

    it "is a weekday, that very day too" do
      # The third of December is a Thursday.
      days = %w[thursday friday monday wednesday].map { |day| first(day)[0] }
      expect(days).to eq(%w[2026-12-03 2026-12-04 2026-12-07 2026-12-09])
      expect(first("friday", count: 2, at: "09:00")).to eq(["2026-12-11", "09:00"])
    end

    it "is a day of the month, in a shorter month its last" do
      expect([3, 15, 1].map { |day| first(day)[0] }).to eq(%w[2026-12-03 2026-12-15 2027-01-01])
      expect(first(31, from: "2027-02-10")[0]).to eq("2027-02-28")
      expect(first(30, from: "2027-02-28")[0]).to eq("2027-02-28")
      expect(first(29, from: "2027-01-30")[0]).to eq("2027-02-28")
    end

    it "is a working day, past weekends and holidays, and moves off a day off as the rule says" do
      expect(first("working_day", from: "2026-12-05")[0]).to eq("2026-12-07")
      # The first Monday is that of Easter, a holiday of this calendar.
      days = %w[stays later].map { |day_off| first("monday", from: "2027-03-23", day_off:)[0] }
      expect(days).to eq(%w[2027-03-29 2027-03-30])
    end

    it "comes after a moment that is past its time of day" do
      on = ->(at, now) { worked_out(date_rule(0, "days", at:).with(first: "tuesday"), now:)[0] }
      # The event was on Tuesday at noon.
      days = %w[13:00 12:00 09:00].map { |at| on.call(at, Builders::NOON) }
      expect(days).to eq(%w[2026-11-24 2026-11-24 2026-12-01])
    end

    it "always is the nearest such day that is not before" do
      for_many(200) do |chance|
        from = Date.new(2026, 1, 1) + chance.some([*0...800])
        day = chance.some([*Yenvo::Core::DateRule::WEEKDAYS, 1, 15, 28, 30, 31])
        found = Date.iso8601(first(day, from: from.iso8601)[0])
        fits = ->(one) do
          next one.strftime("%A").downcase == day unless day.is_a?(Integer)

          one.day == [day, Date.new(one.year, one.month, -1).day].min
        end
        expect([found >= from, fits.call(found)]).to eq([true, true])
        expect((from...found).select { |one| fits.call(one) }).to eq([])
      end
    end

    it "says itself in words, and is refused with units of the clock" do
      words = bind(date_rule(3, "days", "after", "survey_date", at: "09:00").with(first: "friday")).phrase
      expect(words).to eq("the first Friday on or after 3 days after Survey date at 09:00")
      fifteenth = bind(date_rule(0, "days").with(first: 15)).phrase
      expect(fifteenth).to eq("the first day 15 of a month on or after the event")
      problems = []
      expect(bind(date_rule(3, "hours").with(first: "friday"), problems)).to be_nil
      expect(problems[0].to_s).to match(/first.*must be left out when hours are counted/)
    end
  end

  describe "otherwise" do
    let(:rule) { date_rule(0, "days", "after", "survey_date").with(otherwise: date_rule(5, "working_days")) }

    it "stands for an empty date field, and only for that" do
      expect(worked_out(rule, after: {"survey_date" => "2026-12-03"})[0]).to eq("2026-12-03")
      expect(worked_out(rule)[0]).to eq("2026-12-01")
      expect(bind(rule).phrase).to eq("on the day of Survey date (if that is empty, 5 working days after the event)")
    end

    it "may be empty too, and says so" do
      both = rule.with(otherwise: date_rule(0, "days", "after", "last_contact"))
      expect(bind(both).work_out(facts, now: Builders::NOON)).to be_nil
      expect(bind(both).missing).to eq("Survey date is empty, and Last contact is empty")
    end

    it "is refused where nothing can be empty, and where it leads nowhere" do
      wrong = {
        date_rule(1, "days").with(otherwise: date_rule(2, "days")) => /otherwise.*must stand with a date field/,
        rule.with(otherwise: date_rule(2, "days", "after", "moon")) => /otherwise.*from.*must name a field/
      }
      wrong.each do |one, sentence|
        problems = []
        expect([bind(one, problems), problems[0].to_s]).to match([nil, sentence])
      end
    end
  end
end
