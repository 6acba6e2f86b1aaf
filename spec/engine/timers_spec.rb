# frozen_string_literal: true

# Timers of rules: dates, silence, the calendar, days that make a condition true.
RSpec.describe "Timers" do
  include TimerWords

  let(:stage_gone) { {"all" => [{"field" => "stage", "test" => "is_not", "value" => "lost"}]} }

  describe "beside other triggers" do
    it "waits for its own time, while the others run the rule when they happen" do
      rule({"any" => [{"when" => "record_made"}, date_timer(1, "days", "launch_date", at: "08:00")]})
      make("deal", "launch_date" => "2026-12-02")
      pass(to: [2026, 12, 5])
      expect(made).to eq(["Now 24 Nov 12:00", "Now 1 Dec 08:00"])
    end

    it "belongs to each open task, although the others are about the record" do
      rule({"any" => [{"when" => "stage_entered", "stages" => ["lost"]}, quiet(days: 2, at: "09:00", task: true)]})
      deal = make("deal")["id"]
      2.times { |i| root.tasks.make({"title" => "Task #{i}", "record_id" => deal}, cause:) }
      change(deal, {"stage" => "lost"})
      work
      expect(made.grep(/Now/).size).to eq(1)
      expect(db[:timers].exclude(due_at: nil).where { task_id > 0 }.count).to eq(3)
    end
  end

  describe "before and after a date" do
    it "moves with its date, rolls off a day off, and fires once" do
      rule(date_timer(30, "days", "launch_date", at: "08:00", day_off: "earlier"))
      deal = make("deal", "launch_date" => "2027-01-10")["id"]
      work
      expect(dues).to eq(["11 Dec 08:00"])
      change(deal, {"launch_date" => "2027-01-12"})
      work
      # 13 December is a Sunday.
      expect(dues).to eq(["11 Dec 08:00"])
      change(deal, {"launch_date" => "2027-01-14"})
      pass(to: [2027, 2, 1])
      expect(made).to eq(["Now 15 Dec 08:00"])
      expect(fired.map { |detail| detail.slice("timer", "due", "late") }).to eq(
        [{"timer" => "date", "due" => "2026-12-15T08:00:00.000000Z"}]
      )
    end

    it "goes when the field is emptied or only if is not met any more, and comes back with it" do
      rule(date_timer(10, "days", "launch_date", at: "08:00"), only_if: stage_gone)
      deal = make("deal", "launch_date" => "2026-12-20")["id"]
      work
      expect(dues.size).to eq(1)
      change(deal, {"launch_date" => nil})
      work
      expect(dues).to be_empty
      change(deal, {"launch_date" => "2026-12-21", "stage" => "lost"})
      work
      expect(dues).to be_empty
      change(deal, {"stage" => "accepted"})
      work
      expect(dues).to eq(["11 Dec 08:00"])
    end

    it "does not fire for a moment that is past when the date is set, and not again when a field changes after it " \
      "has fired" do
      rule(date_timer(10, "days", "launch_date", at: "08:00"))
      make("deal", "launch_date" => "2026-11-30")
      deal = make("deal", "launch_date" => "2026-12-10")["id"]
      pass(to: [2026, 12, 1])
      change(deal, {"value" => 3}, at: Time.utc(2026, 12, 1))
      pass(to: [2026, 12, 20])
      expect(made).to eq(["Now 30 Nov 08:00"])
    end

    it "follows a date of a linked record, and one that is worked out" do
      rule(date_timer(2, "working_days", "boat_owner.cover_expires", at: "09:00"))
      owner = make("contact", "title" => "Aldo Ferrant", "cover_expires" => "2026-12-11")["id"]
      make("deal", "boat_owner" => owner)
      work
      expect(dues).to eq(["9 Dec 09:00"])
      change(owner, {"cover_expires" => "2026-12-18"})
      work
      expect(dues).to eq(["16 Dec 09:00"])
    end

    it "follows a link that changes half-way to its date" do
      rule(date_timer(2, "days", "boat.boat_owner.cover_expires", at: "09:00", day_off: "stays"), record: "ticket")
      first, second = %w[2026-12-11 2026-12-20].map { |day| make("contact", "cover_expires" => day)["id"] }
      deal = make("deal", "boat_owner" => first)["id"]
      make("ticket", "boat" => deal)
      work
      expect(dues).to eq(["9 Dec 09:00"])
      change(deal, {"boat_owner" => second})
      work
      expect(dues).to eq(["18 Dec 09:00"])
    end

    it "fires two of one record that are due at once one after the other, the second seeing what the first did" do
      rule(
        date_timer(5, "days", "launch_date", at: "08:00", day_off: "stays"), {"action" => "move", "to" => "lost"},
        name: "First"
      )
      rule(
        date_timer(5, "days", "launch_date", at: "08:00", day_off: "stays"), task("Second"), name: "Second",
        only_if: {
          "all" => [
            {"field" => "boat_owner.country", "test" => "is_empty"},
            {"field" => "stage", "test" => "is_not", "value" => "lost"}
          ]
        }
      )
      make("deal", "launch_date" => "2026-12-10")
      pass(to: [2026, 12, 6])
      expect([made, root.records.images(db[:records].select_map(:id)).values.map { |image| image["stage"] }]).to eq(
        [[], ["lost"]]
      )
    end

    it "forecasts many firings without a query for each, knowing what ran before" do
      rule = rule(date_timer(5, "days", "launch_date", at: "08:00", day_off: "stays"), how_often: "once_per_visit")
      queries =
        [3, 30].map do |count|
          count.times { make("deal", "launch_date" => "2026-12-10") }
          work
          forecast = Yenvo::Engine::Forecast.new(root, now: Database::NOW)
          selects do
            found = forecast.to_person("wen", till: Time.utc(2026, 12, 6), limit: 100)
            expect(found.size).to be >= count
          end
        end
      # The first look also reads how the rules stand.
      expect(queries[1]).to be <= queries[0]
      pass(to: [2026, 12, 6])
      db[:records].where(kind: "deal").select_map(:id)
        .each { |id| change(id, {"launch_date" => "2026-12-20"}, at: Time.utc(2026, 12, 6)) }
      work(at: Time.utc(2026, 12, 6, 1))
      found = Yenvo::Engine::Forecast.new(root, now: Time.utc(2026, 12, 6, 1)).of_rule(rule[:id])
      expect(found.map { |one| one.plan.why }.uniq).to eq(["Already ran on this visit"])
    end

    it "counts hours from a date with time, across a change of the clocks" do
      rule(date_timer(3, "days", "made", direction: "after", at: "08:30", day_off: "stays"), task("Days"))
      rule(date_timer(72, "hours", "made", direction: "after", day_off: "stays"), task("Hours"))
      # In Dublin the clocks go back on 25 October.
      make("deal", at: Time.utc(2026, 10, 23, 11))
      pass(from: Time.utc(2026, 10, 23, 12), to: [2026, 11, 1])
      expect(made).to contain_exactly("Days 26 Oct 08:30", "Hours 26 Oct 11:00")
    end

    it "sees the record as it is then" do
      rule(
        date_timer(1, "days", "launch_date", at: "08:00"),
        branches: [
          {"if" => {"all" => [{"field" => "deposit_in", "test" => "is", "value" => true}]}, "do" => [task("Paid")]}
        ],
        otherwise: [task("Unpaid")]
      )
      deal = make("deal", "launch_date" => "2026-12-10")["id"]
      make("deal", "launch_date" => "2026-12-10")
      work
      change(deal, {"deposit_in" => true}, at: Time.utc(2026, 12, 1))
      pass(to: [2026, 12, 15])
      expect(made).to eq(["Paid 9 Dec 08:00", "Unpaid 9 Dec 08:00"])
    end

    it "counts for each open task about a record, moves with it and ends with it" do
      rule(
        date_timer(2, "working_days", "due", direction: "after", at: "09:00").merge("task" => true),
        {"action" => "tasks", "only" => "this", "priority" => "urgent"}
      )
      deal = make("deal")["id"]
      late, moved, done =
        %w[Late Moved Done].map do |title|
          root.tasks.make({"title" => title, "record_id" => deal, "due_on" => "2026-11-26"}, cause:)[:id]
        end
      work
      root.tasks.put_off(moved, on: "2026-12-10", cause:)
      root.tasks.finish(done, cause:)
      work
      expect(dues).to eq(["30 Nov 09:00", "14 Dec 09:00"])
      pass(to: [2026, 12, 1])
      expect(db[:tasks].where(id: [late, moved, done]).order(:id).select_map(:priority)).to eq([3, 1, 1])
    end
  end

  describe "silence" do
    it "fires after five working days without contact, and a call in between puts it off" do
      rule(quiet("contact", at: "09:00"))
      quiet_deal = make("deal")["id"]
      called = make("deal")["id"]
      work
      pass(to: [2026, 11, 27])
      root.interactions.log(called, "call", "All well.", cause: cause(at: Time.utc(2026, 11, 27, 16, 40)))
      root.interactions.log(quiet_deal, "note", "Nobody's contact.", cause: cause(at: Time.utc(2026, 11, 27, 16, 40)))
      pass(to: [2026, 12, 20])
      expect(db[:tasks].order(:id).select_map(:record_id)).to eq([quiet_deal, called])
      expect(made).to eq(["Now 1 Dec 09:00", "Now 4 Dec 09:00"])
    end

    it "begins anew with what is chosen: note, change of some fields, stage, finished task; by people alone where " \
      "it says so" do
      rule(quiet("note", at: "09:00"), task("Note"))
      rule(quiet("change", at: "09:00", fields: ["value"]), task("Value"))
      rule(quiet("stage", at: "09:00"), task("Stage"))
      rule(quiet("task_done", at: "09:00"), task("Task"))
      rule(quiet("change", at: "09:00", people: true), task("People"))
      deal = make("deal")["id"]
      mine = root.tasks.make({"title" => "Mine", "record_id" => deal}, cause:)[:id]
      work
      later = ->(day) { cause(at: Time.utc(2026, 11, day, 10)) }
      pass(to: [2026, 11, 25, 11])
      root.interactions.log(deal, "note", "Here.", cause: later.call(25))
      root.records.change(deal, {"value" => 5}, cause: later.call(25))
      root.records.change(deal, {"stage" => "quoted"}, cause: later.call(25))
      root.tasks.finish(mine, cause: later.call(25))
      work(at: Time.utc(2026, 11, 25, 11))
      root.records.change(
        deal, {"value" => 6},
        cause: Yenvo::Store::Journal::Cause.new(who: nil, at: Time.utc(2026, 11, 26, 10), run: nil, rule: nil, depth: 0)
      )
      pass(to: [2026, 12, 10])
      expect(made.sort).to eq(
        [
          "Mine 24 Nov 12:00", "Note 2 Dec 09:00", "People 2 Dec 09:00", "Stage 2 Dec 09:00", "Task 2 Dec 09:00",
          "Value 3 Dec 09:00"
        ]
      )
    end

    it "of a task: nothing done about it" do
      rule(
        {"when" => "quiet_timer", "span" => {"count" => 2, "unit" => "working_days"}, "at" => "09:00", "task" => true},
        {"action" => "tasks", "only" => "this", "priority" => "high"}
      )
      deal = make("deal")["id"]
      one, two = %w[One Two].map { |title| root.tasks.make({"title" => title, "record_id" => deal}, cause:)[:id] }
      work
      root.tasks.set_state(two, "started", cause: cause(at: Time.utc(2026, 11, 25, 10)))
      pass(to: [2026, 11, 26, 10])
      expect(db[:tasks].where(id: [one, two]).order(:id).select_map(:priority)).to eq([2, 1])
      pass(to: [2026, 11, 27, 10])
      expect(db[:tasks].where(id: two).get(:priority)).to eq(2)
    end
  end

  describe "the calendar" do
    it "fires on its day for each record that meets the condition then, and goes on" do
      gear = {
        "record" => "entry/gear_rounds",
        "only_if" => {
          "all" => [
            {"field" => "stage", "test" => "is", "value" => root.schema.kind("entry/gear_rounds").stages.first.key}
          ]
        }
      }
      rule(schedule("FREQ=MONTHLY;BYMONTHDAY=1", day_off: "later"), task("Round of {{ record.title }}"), **gear)
      make("entry/gear_rounds", "title" => "Hoist slings")
      make("entry/gear_rounds", "title" => "Slipway", "stage" => root.schema.kind("entry/gear_rounds").stages.last.key)
      pass(to: [2027, 2, 10])
      # 1 January is a holiday, and the yard is shut until 2 January, a Saturday.
      expect(made).to eq(
        ["Round of Hoist slings 1 Dec 08:00", "Round of Hoist slings 4 Jan 08:00", "Round of Hoist slings 1 Feb 08:00"]
      )
    end

    it "goes through the records as of its day, also when the clock that does so is behind" do
      rule(schedule("FREQ=MONTHLY;BYMONTHDAY=1"), task("Round"))
      make("deal")
      work
      day = Time.utc(2026, 12, 1, 8)
      Yenvo::Engine::Firing.new(root, Yenvo::Engine::Turn.new(root, log: SemanticLogger["spec"]))
        .take(limit: 10, now: day)
      work(at: day - 86_400)
      expect(made).to eq(["Round 1 Dec 08:00"])
      expect(db[:jobs].where(what: "schedule").select_map(:ended_at)).to eq([day])
    end

    it "fires once, about no record" do
      rule(
        schedule("FREQ=WEEKLY;BYDAY=MO", once: true),
        task("Plan the week", assign: {"to" => "person", "person" => "maren"}),
        {"action" => "record", "kind" => "entry/gear_rounds", "values" => [{"field" => "title", "text" => "The week"}]}
      )
      make("deal")
      pass(to: [2026, 12, 8])
      expect(made).to eq(["Plan the week 30 Nov 08:00", "Plan the week 7 Dec 08:00"])
      expect(db[:tasks].select_map(:record_id)).to eq([nil, nil])
      expect(db[:records].where(kind: "entry/gear_rounds").count).to eq(2)
    end

    it "fires once, marked late, for all that it missed" do
      rule(schedule("FREQ=DAILY"))
      make("deal")
      work
      work(at: Time.utc(2026, 11, 28, 9, 30))
      expect(made).to eq(["Now 28 Nov 09:30"])
      expect(fired.size).to eq(1)
      expect(fired[0]["late"]).to be_between(3 * 1440, (3 * 1440) + 120)
      expect(dues).to eq(["29 Nov 08:00"])
    end
  end

  describe "a condition that a day makes true" do
    it "fires on that day, and again only when it was not true in between" do
      rule(
        {"when" => "record_changed"}, task("Quiet"),
        only_if: {
          "all" => [
            {"field" => "days_quiet", "test" => "at_least", "value" => 5},
            {"field" => "stage", "test" => "is_not", "value" => "lost"}
          ]
        }
      )
      deal = make("deal")["id"]
      root.interactions.log(deal, "call", "Hello.", cause:)
      make("deal", "stage" => "lost")
      work
      pass(to: [2026, 12, 12])
      expect(made).to eq(["Quiet 29 Nov 00:00"])
      root.interactions.log(deal, "call", "Hello again.", cause: cause(at: Time.utc(2026, 12, 12)))
      work(at: Time.utc(2026, 12, 12, 1))
      pass(to: [2026, 12, 22])
      expect(made.last).to eq("Quiet 17 Dec 00:00")
      expect(made.size).to eq(2)
    end
  end
end
