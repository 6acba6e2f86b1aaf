# frozen_string_literal: true

# What a rule leaves for later: waits and ladders.
RSpec.describe "Waits and ladders" do
  def wait(**settings) = {"action" => "wait"}.merge(settings.transform_keys(&:to_s))

  def step(count, does, from: "due", unit: "working_days", at: "09:00", **more) =
    {"after" => {"count" => count, "unit" => unit, "from" => from, "at" => at}.compact, "do" => does}.merge(
      more.transform_keys(&:to_s)
    )

  def rule(*actions, **more) = super({"when" => "stage_entered", "stages" => ["survey_booked"]}, *actions, **more)

  def span(count, unit, **more) = {"count" => count, "unit" => unit, "from" => "now"}.merge(more.transform_keys(&:to_s))

  def made =
    db[:tasks].order(:id)
      .map { |row| "#{row[:title]} #{root.calendar.zone.local(row[:made_at]).strftime("%-d %b %H:%M")}" }

  def paid = {"all" => [{"field" => "deposit_in", "test" => "is", "value" => true}]}
  def why = db[:runs].order(:id).select_map(:why)
  def booked(**values) = make("deal", {"stage" => "survey_booked"}.merge(values.transform_keys(&:to_s)))["id"]

  describe "a wait" do
    it "goes on after a time, with what the row made before it, and sees the event as it was" do
      rule(
        {"action" => "record", "kind" => "ticket", "values" => [{"field" => "title", "text" => "Ticket"}]},
        task("Before"), wait(for: span(2, "working_days", at: "09:00")),
        task("After {{ event.who }}", of: "made.1", under: 2)
      )
      booked
      pass(to: [2026, 12, 1])
      expect(made).to eq(["Before 24 Nov 12:00", "After Hollie Banner 26 Nov 09:00"])
      expect(db[:tasks].order(:id).last.values_at(:parent_id, :kind)).to eq(
        [db[:tasks].order(:id).first[:id], "ticket"]
      )
      expect(why).to eq(
        ["Stage becomes Survey booked", "Waited until the time was over, and the conditions still hold"]
      )
    end

    it "still knows what the record was before the event" do
      publish(
        {
          "trigger" => {"when" => "record_changed", "field" => "value"},
          "branches" => [
            {
              "if" => {
                "all" => [
                  {"field" => "value", "test" => "changed"},
                  {"field" => "before.value", "test" => "less", "value" => 100}
                ]
              },
              "do" => [
                wait(for: span(1, "days", at: "09:00", day_off: "stays")),
                task("Was {{ before.value }}, is {{ record.value }}")
              ]
            }
          ]
        }
      )
      deal = make("deal", "value" => 50)["id"]
      change(deal, {"value" => 200})
      pass(to: [2026, 11, 26])
      expect(made).to eq(["Was €50, is €200 25 Nov 09:00"])
    end

    it "looks again, and goes on only if the conditions still hold" do
      rule(
        wait(for: span(2, "days", at: "09:00", day_off: "stays")), task("After"),
        branches: [
          {
            "if" => {"all" => [{"field" => "value", "test" => "at_least", "value" => 100}]},
            "do" => [wait(for: span(2, "days", at: "09:00")), task("After")]
          }
        ]
      )
      kept = booked("value" => 200)
      changed = booked("value" => 200)
      work
      change(changed, {"value" => 50}, at: Time.utc(2026, 11, 25))
      pass(to: [2026, 12, 1])
      expect(db[:tasks].select_map(:record_id)).to eq([kept])
      expect(why.last(2)).to contain_exactly(
        "Waited until the time was over, and the conditions still hold",
        "Waited until the time was over; then Value is €50"
      )
    end

    it "ends when its condition comes true, and otherwise at its limit" do
      rule(wait(until: paid, limit: span(10, "working_days", at: "09:00")), task("Go on"))
      rule(wait(until: paid, limit: span(10, "working_days", at: "09:00"), at_limit: "stop"), task("Paid in time"))
      early = booked
      never = booked
      work
      pass(to: [2026, 11, 30, 10])
      change(early, {"deposit_in" => true}, at: Time.utc(2026, 11, 30, 10))
      pass(to: [2026, 12, 20])
      expect(db[:tasks].order(:id).select_map(%i[title record_id])).to eq(
        [["Go on", early], ["Paid in time", early], ["Go on", never]]
      )
      expect(made).to eq(["Go on 30 Nov 10:00", "Paid in time 30 Nov 10:00", "Go on 8 Dec 09:00"])
      expect(why.last).to eq("Waited until the limit came; nothing more is done then")
    end

    it "waits for a date, moves with it, and takes whichever comes first" do
      rule(
        wait(
          date: {
            "count" => 3, "unit" => "days", "direction" => "before", "from" => "launch_date", "at" => "08:00",
            "day_off" => "stays"
          },
          until: paid,
          limit: span(60, "days")
        ),
        task("Prepare")
      )
      moved = booked("launch_date" => "2026-12-20")
      work
      pass(to: [2026, 12, 1])
      change(moved, {"launch_date" => "2026-12-10"}, at: Time.utc(2026, 12, 1))
      pass(to: [2026, 12, 20])
      expect(made).to eq(["Prepare 7 Dec 08:00"])
    end

    it "ends on the day that makes its condition true, and when a linked record does" do
      rule(
        wait(
          until: {"all" => [{"field" => "days_quiet", "test" => "at_least", "value" => 3}]},
          limit: span(60, "days")
        ),
        task("Quiet")
      )
      rule(
        wait(
          until: {"all" => [{"field" => "boat_owner.country", "test" => "is_filled_in"}]},
          limit: span(60, "days")
        ),
        task("Known")
      )
      owner = make("contact")["id"]
      root.interactions.log(booked("boat_owner" => owner), "call", "Hello.", cause:)
      work
      pass(to: [2026, 11, 25])
      change(
        owner, {"country" => root.schema.kind("contact").field("country").choices.first.key}, at: Time.utc(2026, 11, 25)
      )
      pass(to: [2026, 12, 20])
      expect(made).to eq(["Known 25 Nov 00:00", "Quiet 27 Nov 00:00"])
    end

    it "keeps the version that began it, waits more than once, and ends when the run is undone" do
      rule =
        rule(
          task("First"), wait(for: span(1, "days", at: "09:00", day_off: "stays")), task("Second"),
          wait(for: span(1, "days", at: "09:00", day_off: "stays")), task("Third", under: 1)
        )
      booked
      other = booked
      work
      root.rules.publish(
        rule[:id], root.rules.body(rule[:version_id])
          .with(
            branches: [
              Yenvo::Core::Branch.new(conditions: Yenvo::Core::Group.always, actions: [a_task(title: "Other")])
            ]
          ),
        cause: cause("maren")
      )
      pass(to: [2026, 11, 26])
      run = root.runs.list(record: other).first
      items = root.undo.run([root.runs.find!(run[:id])], cause: cause("maren", at: Time.utc(2026, 11, 26)))
      expect(items.map(&:words)).to include("The rest behind a wait")
      pass(to: [2026, 12, 1])
      expect(made).to eq(
        ["First 24 Nov 12:00", "First 24 Nov 12:00", "Second 25 Nov 09:00", "Second 25 Nov 09:00", "Third 26 Nov 09:00"]
      )
      expect(db[:tasks].where(title: "Third").get(:parent_id)).to eq(db[:tasks].where(title: "First").min(:id))
    end

    it "ends when the task that it is about ends" do
      publish(
        {
          "trigger" => {"when" => "task_made"},
          "only_if" => {"all" => [{"field" => "task.title", "test" => "is", "value" => "Call"}]},
          "branches" => [
            {
              "do" => [
                wait(for: span(1, "days")),
                {
                  "action" => "notice",
                  "assign" => {"to" => "person", "person" => "maren"}, "text" => "{{ task.title }} is {{ task.stage }}"
                }
              ]
            }
          ]
        }
      )
      deal = make("deal")["id"]
      done, open = Array.new(2) { root.tasks.make({"title" => "Call", "record_id" => deal}, cause:)[:id] }
      work
      root.tasks.finish(done, cause:)
      pass(to: [2026, 11, 27])
      expect(db[:notices].select_map(:text)).to eq(["Call is Open"])
      expect(db[:tasks].where(id: open).get(:open)).to be(true)
    end
  end

  describe "a ladder" do
    def ladder =
      {
        "action" => "ladder",
        "steps" => [
          step(1, "remind"), step(2, "raise"), step(3, "pass_on", assign: {"to" => "person", "person" => "tobias"}),
          step(4, "drop", text: "Nobody came to it.")
        ]
      }

    it "reminds, raises, passes on and drops, looking each time whether the task is still open" do
      rule(task("Call", "due" => {"count" => 0, "unit" => "days", "from" => "event"}), ladder)
      deal = booked
      done = booked
      work
      pass(to: [2026, 11, 25, 10])
      expect(db[:notices].where(what: nil).select_map([:person, :text])).to eq([["wen", "“Call” is still open."]] * 2)
      root.tasks.finish(db[:tasks].where(record_id: done).get(:id), cause: cause("wen", at: Time.utc(2026, 11, 25, 10)))
      pass(to: [2026, 11, 27, 10])
      expect(db[:tasks].where(record_id: deal).select_map([:priority, :assignee, :open])).to eq([[2, "tobias", true]])
      pass(to: [2026, 12, 5])
      expect(db[:tasks].order(:id).select_map(%i[state note])).to eq([["dropped", "Nobody came to it."], ["done", nil]])
      expect(why.drop(2)).to eq(
        ["“Call” is still open 1 working day after Due at 09:00"] * 2 +
          [
            "“Call” is still open 2 working days after Due at 09:00",
            "“Call” is still open 3 working days after Due at 09:00",
            "“Call” is still open 4 working days after Due at 09:00"
          ]
      )
    end

    it "moves with the due date, waits while there is none, and goes on when a finished task is open again" do
      rule(task("Call"), {"action" => "ladder", "on" => "1", "steps" => [step(1, "raise")]})
      booked
      work
      id = db[:tasks].get(:id)
      pass(to: [2026, 11, 26])
      root.tasks.put_off(id, on: "2026-12-10", cause: cause("wen", at: Time.utc(2026, 11, 26)))
      work(at: Time.utc(2026, 11, 26, 1))
      root.tasks.put_off(id, on: "2026-12-01", cause: cause("wen", at: Time.utc(2026, 11, 26, 1)))
      root.tasks.finish(id, cause: cause("wen", at: Time.utc(2026, 11, 26, 2)))
      work(at: Time.utc(2026, 11, 26, 3))
      root.tasks.take_back(id, cause: cause("wen", at: Time.utc(2026, 11, 27)))
      pass(from: Time.utc(2026, 11, 27), to: [2026, 12, 2, 8])
      expect(db[:tasks].get(:priority)).to eq(1)
      pass(to: [2026, 12, 2, 10])
      expect(db[:tasks].get(:priority)).to eq(2)
    end

    it "climbs for a task that the rule watches, by hours after it is late, and for each of several" do
      publish(
        {
          "trigger" => {"when" => "task_made"},
          "branches" => [
            {
              "do" => [
                {
                  "action" => "ladder",
                  "steps" => [
                    step(2, "pass_on", unit: "hours", at: nil, assign: {"to" => "queue", "queue" => "callbacks"}),
                    step(1, "raise", unit: "hours", at: nil, from: "now")
                  ]
                }
              ]
            }
          ]
        }
      )
      deal = make("deal")["id"]
      root.tasks.make(
        {"title" => "Call", "record_id" => deal, "assignee" => "wen", "due_on" => "2026-11-24", "due_at" => "14:00"},
        cause:
      )
      work
      pass(to: [2026, 11, 24, 16])
      expect(db[:tasks].select_map([:assignee, :queue, :priority])).to eq([[nil, "callbacks", 1]])
      pass(to: [2026, 11, 24, 17])
      expect(db[:tasks].get(:priority)).to eq(2)
    end
  end

  it "asks for what is missing, in sentences" do
    wrong = ->(*actions) do
      problems_of(
        a_rule(
          branches: [
            Yenvo::Core::Branch.new(
              conditions: all_of, actions:
                Yenvo::Core::RuleReader.read!(
                  "format" => "yenvo-rule/1", "name" => "x", "record" => "deal",
                  "trigger" => {"when" => "record_made"}, "branches" => [{"do" => actions}]
                ).branches[0].actions
            )
          ]
        )
      ).map { |text| text.sub(/\ABranch 1.*?: /, "") }
    end
    expect(wrong.call(wait)).to include(match(/must say what it waits for/))
    expect(
      wrong.call(wait(until: {"all" => [{"field" => "deposit_in", "test" => "is", "value" => true}]}))
    ).to include(match(/must be given, so that it does not wait for ever/))
    expect(wrong.call({"action" => "ladder", "steps" => [step(1, "raise")]})).to include(
      match(/must stand behind an action that makes a task/)
    )
    expect(
      wrong.call(
        task("Call", "assign" => {"to" => "person", "person" => "maren"}),
        {"action" => "ladder", "steps" => [step(1, "pass_on")]}
      )
    ).to include(match(/must say to whom it passes/))
  end
end
