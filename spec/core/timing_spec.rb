# frozen_string_literal: true

# When things are due: across changes of the clocks, months of different length, holidays and shut yards.
RSpec.describe Yenvo::Core::Timing do
  zones = {
    "Europe/Dublin" => [Date.new(2027, 3, 28), Date.new(2026, 10, 25)],
    "America/New_York" => [Date.new(2027, 3, 14), Date.new(2026, 11, 1)],
    "Australia/Lord_Howe" => [Date.new(2026, 10, 4), Date.new(2027, 4, 4)]
  }

  def calendar_in(zone, **more) =
    Yenvo::Core::Calendar.new(zone:, hours: (1..5).to_h { |day| [day, [480, 1050]] }, **more)

  def recurrence(source, calendar: a_calendar, starts: "2026-01-01", at: 480, day_off: "stays") =
    Yenvo::Core::Recurrence.read(
      source, starts: Date.iso8601(starts), minutes: at, calendar:, day_off:
    )

  def shown(times, zone = "Europe/Dublin") =
    times.map { |time| Yenvo::Core::Zone.new(zone).local(time).strftime("%-d %b %Y %H:%M") }

  def timer(calendar: a_calendar, **date) =
    compiled(
      a_rule(
        trigger: {
          "when" => "date_timer",
          "date" => {
            "count" => 1, "unit" => "days", "direction" => "before", "from" => "survey_date", "day_off" => "stays"
          }.merge(date.transform_keys(&:to_s))
        }
      ),
      calendar:
    )

  def due(rule, at: Builders::NOON, **image) =
    rule.timing.due(facts(after: image.transform_keys(&:to_s), at:), since: nil)&.first

  zones.each do |zone, changes|
    it "fires once a day by the wall clock of #{zone}, whatever its clocks do" do
      calendar = calendar_in(zone)
      local = calendar.zone
      [0, 90, 150, 180, 1439].each do |at|
        changes.each do |change|
          found, = recurrence("FREQ=DAILY", calendar:, at:)
          times = found.after(local.midnight(change - 3) - 1, 7)
          expect(times.map { |time| local.date_of(time) }.tally.values.uniq).to eq([1])
          expect(times).to eq(times.sort.uniq)
          # A wall clock that is skipped that day comes as much later; the others are kept.
          ordinary = times.map { |time| local.local(time) }.reject { |time| time.to_date == change }
          expect(ordinary.map { |time| (time.hour * 60) + time.min }.uniq).to eq([at])
        end
      end
    end

    it "counts calendar days by the wall clock and hours by the clock in #{zone}" do
      calendar = calendar_in(zone)
      changes.each do |change|
        moment = calendar.zone.at(change - 1, 600)
        image = {seen_at: Yenvo::Core::Reading.moment(moment)}
        days = due(timer(calendar:, count: 2, direction: "after", from: "seen_at", at: "10:00"), **image)
        hours = due(timer(calendar:, count: 48, unit: "hours", direction: "after", from: "seen_at"), **image)
        expect(days).to eq(calendar.zone.at(change + 1, 600))
        expect(hours).to eq(moment + (48 * 3600))
      end
    end
  end

  it "keeps the day of the month or takes the last, over leap years and the end of a year" do
    rule = ->(count, direction) { timer(count:, unit: "months", direction:, at: "08:00") }
    on = ->(rule, date) { shown([due(rule, survey_date: date)])[0] }
    expect(on.call(rule.call(1, "after"), "2027-01-31")).to eq("28 Feb 2027 08:00")
    expect(on.call(rule.call(1, "after"), "2028-01-31")).to eq("29 Feb 2028 08:00")
    expect(on.call(rule.call(12, "before"), "2028-02-29")).to eq("28 Feb 2027 08:00")
    expect(on.call(rule.call(2, "after"), "2026-12-31")).to eq("28 Feb 2027 08:00")
    expect(on.call(timer(count: 30, at: "08:00"), "2027-01-10")).to eq("11 Dec 2026 08:00")
  end

  it "steps over holidays, weekends and ten days on which the yard is shut" do
    on = ->(date, **more) do
      shown([due(timer(unit: "working_days", at: "09:00", day_off: "later", **more), survey_date: date)])[0]
    end
    expect(on.call("2026-12-23", count: 1, direction: "after")).to eq("4 Jan 2027 09:00")
    expect(on.call("2027-01-04", count: 1)).to eq("23 Dec 2026 09:00")
    # St Patrick's Day falls on a Wednesday in 2027; Easter Monday is 29 March.
    expect(on.call("2027-03-18", count: 1)).to eq("16 Mar 2027 09:00")
    expect(on.call("2027-03-30", count: 1)).to eq("26 Mar 2027 09:00")
  end

  it "never counts working days to a day off" do
    calendar = a_calendar
    PropCheck.forall(
      PropCheck::Generators.choose(0..2_000), PropCheck::Generators.choose(1..60),
      PropCheck::Generators.one_of(*%w[before after].map { |way| PropCheck::Generators.constant(way) })
    ) do |day, count, way|
      moment =
        due(
          timer(unit: "working_days", count:, direction: way, at: "09:00", day_off: "later"),
          survey_date: (Date.new(2026, 1, 1) + day).iso8601
        )
      expect(calendar.working_day?(calendar.zone.date_of(moment))).to be(true)
    end
  end

  it "says at once when nobody ever works, instead of looking for a day" do
    idle = Yenvo::Core::Calendar.new(zone: "Europe/Dublin", hours: {})
    schema = a_schema(calendar: idle)
    working =
      a_rule(
        trigger: {
          "when" => "date_timer",
          "date" => {
            "count" => 3, "unit" => "working_days", "direction" => "before", "from" => "survey_date",
            "day_off" => "later"
          }
        }
      )
    quiet =
      a_rule(
        trigger: {
          "when" => "quiet_timer", "nothing" => ["contact"], "span" => {"count" => 3, "unit" => "working_hours"}
        }
      )
    plain =
      a_rule(
        trigger: {
          "when" => "date_timer",
          "date" => {
            "count" => 3, "unit" => "days", "direction" => "before", "from" => "survey_date", "at" => "08:00",
            "day_off" => "stays"
          }
        }
      )
    expect(problems_of(working, schema:)).to include(match(/no day on which anybody works/))
    expect(problems_of(quiet, schema:)).to include(match(/no day on which anybody works/))
    expect(problems_of(plain, schema:)).to be_empty
    expect(recurrence("FREQ=DAILY", calendar: idle, day_off: "later")[1]).to match(/worked out|never does/)
    expect(recurrence("FREQ=DAILY", calendar: idle)[1]).to be_nil
  end

  describe "recurrences" do
    it "come on the days that RFC 5545 says, with their time of day" do
      {
        "FREQ=MONTHLY;BYMONTHDAY=31" => ["31 Dec 2026", "31 Jan 2027", "31 Mar 2027"],
        "FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1" => ["30 Nov 2026", "31 Dec 2026", "29 Jan 2027"],
        "FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29" => ["29 Feb 2028", "29 Feb 2032", "29 Feb 2036"],
        "FREQ=WEEKLY;INTERVAL=2;BYDAY=TU" => ["8 Dec 2026", "22 Dec 2026", "5 Jan 2027"],
        "FREQ=MONTHLY;BYDAY=1MO" => ["7 Dec 2026", "4 Jan 2027", "1 Feb 2027"], "RRULE:FREQ=DAILY;COUNT=2" => [],
        "FREQ=DAILY;UNTIL=20261126" => ["25 Nov 2026", "26 Nov 2026"],
        "FREQ=YEARLY;BYWEEKNO=53" => ["28 Dec 2026", "29 Dec 2026", "30 Dec 2026"]
      }.each do |source, days|
        found, wrong =
          recurrence(
            source, starts: (source.include?("INTERVAL") || source.include?("WEEKNO")) ? "2026-01-06" : "2026-01-01"
          )
        wanted = source.include?("WEEKNO") ? ["29 Dec 2026", "4 Jan 2033", "28 Dec 2032"].first(1) : days
        got = shown(found.after(Builders::NOON, 3)).map { |text| text.delete_suffix(" 08:00") }
        expect([source, wrong, source.include?("WEEKNO") ? got.first(1) : got]).to eq([source, nil, wanted])
      end
    end

    it "say what is wrong with one that cannot be read or never comes" do
      {
        "" => /such as FREQ/, "FREQ=HOURLY" => /FREQ; "HOURLY" is none/,
        "FREQ=DAILY;BYHOUR=9" => /BYHOUR is none. The time of day stands beside it/, "BYDAY=MO" => /say how often/,
        "FREQ=DAILY;FREQ=DAILY" => /once/, "FREQ=MONTHLY;BYMONTHDAY=32" => /BYMONTHDAY/,
        "FREQ=WEEKLY;BYDAY=XX" => /BYDAY/, "FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30" => /never does/,
        "FREQ=DAILY;UNTIL=20251301" => /UNTIL/, "FREQ=DAILY;UNTIL=20250101" => /never does/, "x" * 400 => /such as/
      }.each { |source, said| expect([source, recurrence(source)[1]]).to match([source, said]) }
    end

    it "move off days off, and two that meet on a day are one" do
      found, = recurrence("FREQ=DAILY", day_off: "later")
      expect(shown(found.after(Time.utc(2026, 12, 23, 12), 3))).to eq(
        ["4 Jan 2027 08:00", "5 Jan 2027 08:00", "6 Jan 2027 08:00"]
      )
      found, = recurrence("FREQ=MONTHLY;BYMONTHDAY=1,2,3", day_off: "earlier")
      expect(shown(found.after(Time.utc(2026, 12, 20), 2))).to eq(["23 Dec 2026 08:00", "1 Feb 2027 08:00"])
    end

    it "give the same wherever one begins to count" do
      sources = %w[
        FREQ=DAILY;INTERVAL=3
        FREQ=WEEKLY;BYDAY=MO,FR
        FREQ=MONTHLY;BYMONTHDAY=-1,15
        FREQ=YEARLY;BYMONTH=3,10;BYDAY=-1SU
        FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=1,-1
        FREQ=DAILY;COUNT=400
      ]
      PropCheck.forall(
        PropCheck::Generators.choose(0..sources.size - 1), PropCheck::Generators.choose(0..500)
      ) do |which, skip|
        found, = recurrence(sources[which])
        from = Time.utc(2026, 1, 1) + (skip * 43_210)
        all = found.after(from, 6)
        expect(all).to eq(all.sort.uniq)
        one_by_one = all.size.times.inject([from]) { |times, _| times << found.next_after(times.last) }.drop(1)
        expect(one_by_one).to eq(all)
      end
    end

    it "read as plain words" do
      words = ->(source) { Yenvo::Core::RecurrenceWords.of(source, Date.new(2026, 3, 4)) }
      expect(
        %w[
          FREQ=MONTHLY;BYMONTHDAY=1
          FREQ=MONTHLY;BYMONTHDAY=1,-1
          FREQ=WEEKLY
          FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,TH,FR
          FREQ=MONTHLY;BYDAY=-1FR
          FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1
          FREQ=YEARLY
          FREQ=YEARLY;BYMONTH=3,9;BYMONTHDAY=15;COUNT=4
          FREQ=DAILY;UNTIL=20261231
          FREQ=YEARLY;BYWEEKNO=20
        ].map(&words)
      ).to eq(
        [
          "Every month on day 1", "Every month on day 1 and the last day", "Every week on Wednesday",
          "Every 2 weeks on Monday, Thursday and Friday", "Every month on the last Friday",
          "Every month on the last weekday", "Every year on 4 March",
          "Every year on day 15 in March and September 4 times", "Every day until Thu 31 Dec 2026",
          "Every year on Wednesday in week 20"
        ]
      )
    end
  end

  it "keeps a moment that fired from firing again, also when the clock was set back" do
    rule = timer(at: "08:00")
    kept = Yenvo::Core::Timing::Keeping.of(rule.timing, facts(after: {"survey_date" => "2026-12-10"}), kept: nil)
    expect(shown([kept.due])).to eq(["9 Dec 2026 08:00"])
    fired = kept.with(fired_for: kept.due, due: nil)
    back =
      Yenvo::Core::Timing::Keeping.of(
        rule.timing, facts(after: {"survey_date" => "2026-12-10"}, at: Time.utc(2026, 11, 1)), kept: fired
      )
    expect(back.due).to be_nil
    moved = Yenvo::Core::Timing::Keeping.of(rule.timing, facts(after: {"survey_date" => "2026-12-20"}), kept: fired)
    expect(shown([moved.due])).to eq(["19 Dec 2026 08:00"])
  end
end
