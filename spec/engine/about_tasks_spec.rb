# frozen_string_literal: true

# Rules about tasks: whatever these are about, and also those that are about nothing.
RSpec.describe "Rules about tasks" do
  def rule(trigger, *actions, **more) = super(trigger, *actions, record: "task", name: "About tasks", **more)

  def this(**changes) = {"action" => "tasks", "only" => "this"}.merge(changes.transform_keys(&:to_s))

  alias_method :follow_up, :task

  def task(record: nil, who: "maren", **given)
    plain = {"title" => "Ring back", "assignee" => "hollie"}.merge(given.transform_keys(&:to_s))
    root.tasks.make({**plain, "record_id" => record}.compact, cause: cause(who))[:id]
  end

  def row(id) = root.tasks.find!(id)
  def asks(*items) = {"all" => items.map { |field, test, value| {"field" => field, "test" => test, "value" => value} }}

  it "gives any new task of a person to a queue, about a record or about none" do
    rule("task_made", this(assign: {"to" => "queue", "queue" => "callbacks"}), only_if: asks(%w[assignee is hollie]))
    deal = make("deal")["id"]
    about, bare, other = task(record: deal), task, task(assignee: "wen")
    work
    expect([about, bare, other].map { |id| row(id).values_at(:assignee, :queue) }).to eq(
      [[nil, "callbacks"], [nil, "callbacks"], ["wen", nil]]
    )
    expect(db[:runs].select_order_map(:record_id)).to eq([nil, deal])
  end

  it "asks about the record that a task leads to, by its kind and by what every record has" do
    rule(
      "task_made", this(priority: "urgent"),
      only_if: asks(["about_deal.value", "more", 100], ["about.title", "is", "Tern"], %w[about_kind is deal])
    )
    tern = make("deal", "title" => "Tern", "value" => 200)["id"]
    ids = [
      task(record: tern), task(record: make("deal", "title" => "Tern", "value" => 5)["id"]),
      task(record: make("ticket", "title" => "Tern")["id"]), task
    ]
    work
    expect(ids.map { |id| row(id)[:priority] }).to eq([3, 1, 1, 1])
  end

  it "goes two links deep, and fills texts and dates with what the task and its record say" do
    rule(
      "task_done",
      follow_up("{{ record.title }} is done: tell {{ record.about_deal.boat_owner }} of {{ record.about.title }}"),
      only_if: asks(%w[about_deal.boat_owner.title is Aldo])
    )
    aldo = make("contact", "title" => "Aldo")["id"]
    deal = make("deal", "title" => "Tern", "boat_owner" => aldo)["id"]
    root.tasks.finish(task(record: deal), cause:)
    root.tasks.finish(task, cause:)
    work
    made = db[:tasks].where(assignee: "wen").all
    expect(made.map { |one| one.values_at(:title, :record_id) }).to eq(
      [["Ring back is done: tell Aldo of Tern", deal]]
    )
  end

  it "knows what a change was, and which of several triggers it is" do
    rule(
      {"any" => [{"when" => "task_changed", "what" => ["priority"]}, {"when" => "task_dropped"}]},
      follow_up("{{ record.priority }} after {{ record.title }}"),
      only_if: asks(%w[before.priority is normal], ["priority", "changed", nil])
    )
    one, two = task, task(record: make("deal")["id"])
    [one, two].each { |id| root.tasks.edit(id, {"priority" => "high"}, cause:) }
    root.tasks.edit(one, {"priority" => "urgent"}, cause:)
    root.tasks.drop(two, cause:)
    work
    expect(db[:tasks].where(assignee: "wen").order(:id).select_map(:title)).to eq(["High after Ring back"] * 2)
  end

  it "runs once for each task, as often as that is made or changed, where it says so" do
    rule("task_changed", follow_up("Once"), how_often: "once_per_task")
    ids = [task, task]
    2.times { |i| ids.each { |id| root.tasks.put_off(id, on: "2026-12-0#{i + 1}", cause:) } }
    work
    expect(db[:tasks].where(title: "Once").count).to eq(2)
  end

  it "hears of a task that gets late, also of one about nothing, once" do
    rule("task_late", this(priority: "urgent"))
    ids = [task(due_on: "2026-11-25"), task(record: make("deal")["id"], due_on: "2026-11-25")]
    pass(to: [2026, 11, 27])
    expect(ids.map { |id| row(id)[:priority] }).to eq([3, 3])
    expect(db[:journal].where(what: "task_late").count).to eq(2)
  end

  describe "with a timer" do
    let(:day_before) do
      {"count" => 1, "unit" => "days", "direction" => "before", "from" => "due", "at" => "08:00"}
    end

    def dues =
      db[:timers].exclude(due_at: nil).order(:due_at, :task_id)
        .map { |row| root.calendar.zone.local(row[:due_at]).strftime("%-d %b %H:%M") }

    it "waits for a date of each open task, and moves and goes with it" do
      rule({"when" => "date_timer", "date" => day_before}, follow_up("Tomorrow: {{ record.title }}"))
      bare = task(due_on: "2026-12-02")
      about = task(record: make("deal")["id"], due_on: "2026-12-03")
      over = task(due_on: "2026-12-04")
      work
      expect(dues).to eq(["1 Dec 08:00", "2 Dec 08:00", "3 Dec 08:00"])
      root.tasks.put_off(bare, on: "2026-12-09", cause:)
      root.tasks.finish(over, cause:)
      pass(to: [2026, 12, 5])
      expect(db[:tasks].where(assignee: "wen").select_map([:title, :record_id])).to eq(
        [["Tomorrow: Ring back", row(about)[:record_id]]]
      )
      pass(to: [2026, 12, 12])
      expect(db[:tasks].where(assignee: "wen").count).to eq(2)
    end

    it "is set for tasks that were there when it was published" do
      bare = task(due_on: "2026-12-02")
      task(record: make("deal")["id"], due_on: "2026-12-03")
      work
      rule({"when" => "date_timer", "date" => day_before}, this(priority: "high"))
      work
      expect(dues).to eq(["1 Dec 08:00", "2 Dec 08:00"])
      pass(to: [2026, 12, 2])
      expect(row(bare)[:priority]).to eq(2)
    end

    it "moves with a date of the record" do
      rule(
        {"when" => "date_timer", "date" => day_before.merge("from" => "about_deal.survey_date")},
        this(priority: "high")
      )
      deal = make("deal", "survey_date" => "2026-12-10")["id"]
      id = task(record: deal)
      task(record: make("ticket")["id"])
      task
      work
      expect(dues).to eq(["9 Dec 08:00"])
      change(deal, {"survey_date" => "2026-12-01"})
      pass(to: [2026, 12, 2])
      expect([row(id)[:priority], dues]).to eq([2, []])
    end

    it "fires when nothing was done about a task for some time" do
      quiet = {"when" => "quiet_timer", "span" => {"count" => 3, "unit" => "days"}, "at" => "09:00"}
      rule(quiet, this(priority: "high"))
      still, busy = task, task
      pass(to: [2026, 11, 26])
      root.tasks.set_state(busy, "started", cause: cause("hollie", at: Time.utc(2026, 11, 26, 12)))
      pass(to: [2026, 11, 28])
      expect([still, busy].map { |id| row(id)[:priority] }).to eq([2, 1])
    end
  end

  it "gives what it makes to the owner of the record, or else to somebody" do
    whom = {"assign" => {"to" => "owner"}, "fallback" => {"to" => "queue", "queue" => "callbacks"}}
    made = follow_up("See to it").merge(whom)
    rule("task_done", made)
    ids = [task(record: make("deal", "owner" => "priya")["id"]), task]
    ids.each { |id| root.tasks.finish(id, cause:) }
    work
    expect(db[:tasks].where(title: "See to it").order(:id).select_map(%i[assignee queue])).to eq(
      [["priya", nil], [nil, "callbacks"]]
    )
  end

  it "waits, and goes on with the task as it is then" do
    rule(
      "task_made", {"action" => "wait", "for" => {"count" => 2, "unit" => "days", "from" => "now"}},
      this(priority: "urgent"), only_if: asks(["priority", "is", "normal"])
    )
    ids = [task, task(record: make("deal")["id"]), task]
    work
    root.tasks.edit(ids[2], {"priority" => "high"}, cause:)
    pass(to: [2026, 11, 30])
    expect(ids.map { |id| row(id)[:priority] }).to eq([3, 3, 2])
  end

  it "waits until something is true of the task, also of one about nothing, and looks when that changes" do
    rule(
      "task_made",
      {
        "action" => "wait", "until" => asks(%w[priority is urgent]),
        "limit" => {"count" => 9, "unit" => "days", "from" => "now"}, "at_limit" => "stop"
      },
      follow_up("Hurry: {{ record.title }}")
    )
    ids = [task, task(record: make("deal")["id"]), task(title: "Calm")]
    work
    ids.first(2).each { |id| root.tasks.edit(id, {"priority" => "urgent"}, cause:) }
    pass(to: [2026, 11, 25])
    expect(db[:tasks].where(assignee: "wen").select_map(:title)).to eq(["Hurry: Ring back"] * 2)
  end

  it "leaves alone what needs a record where there is none, and says so" do
    rule(
      "task_made", {"action" => "log", "way" => "note", "text" => "About {{ record.title }}"},
      {"action" => "set", "of" => "about_deal", "values" => [{"field" => "value", "value" => 7}]}
    )
    deal = make("deal", "value" => 1)["id"]
    task(record: deal)
    task
    work
    expect([root.records.find!(deal)["value"], db[:interactions].select_map(%i[record_id text])]).to eq(
      [7, [[deal, "About Ring back"]]]
    )
    said = db[:runs].order(:id).select_map([:state, :actions]).map { |state, text| [state, JSON.parse(text)] }
    expect(said.map(&:first)).to eq(%w[ran ran])
    expect(said[1][1].map { |step| step["title"] }).to eq(
      ["Nothing to do: the task is about no record", "Nothing to do: Deal is empty"]
    )
  end

  it "meets what happens to one task in order, and what is set aside holds up no other" do
    rule({"any" => [{"when" => "task_made"}, {"when" => "task_dropped"}]}, follow_up("{{ record.title }} seen"))
    set_aside, other = task, task(title: "Other")
    root.tasks.drop(set_aside, cause:)
    entry = db[:journal].where(task_id: set_aside, what: "task_made").get(:id)
    root.waiting.set_aside(entry, RuntimeError.new("broken"), now: Database::NOW)
    work
    expect(db[:tasks].where(assignee: "wen").select_map(:title)).to eq(["Other seen"])
    expect(root.waiting.aside.map { |row| row.values_at(:record_id, :behind) }).to eq([[nil, 1]])
    expect(row(other)[:title]).to eq("Other")
  end

  it "is tried on the newest tasks" do
    plain = {
      "format" => "yenvo-rule/1", "record" => "task", "name" => "Try", "trigger" => {"when" => "task_made"},
      "only_if" => asks(["about_deal.value", "more", 5]), "branches" => [{"do" => [this(priority: "high")]}]
    }
    compiled = Yenvo::Core::CompiledRule.bind!(Yenvo::Core::RuleReader.read!(plain), root.schema)
    task(title: "Bare")
    task(title: "About", record: make("deal", "value" => 10)["id"])
    trying = Yenvo::Engine::Trying.new(root, compiled, who: "maren", now: Database::NOW)
    found = trying.over
    expect([found.looked_at, found.counts]).to eq([2, {"1" => 1, "skip" => 1}])
    expect(found.rows.map { |one| one.values_at("title", "branches") }).to eq([["About", ["1"]], ["Bare", []]])
    _, plan = trying.one(found.rows[0]["id"])
    expect(plan.why).to eq("Deal · Value €10")
  end

  it "shows ahead on a record what it will do to its tasks" do
    rule(
      {
        "when" => "date_timer",
        "date" => {"count" => 0, "unit" => "days", "direction" => "before", "from" => "due", "at" => "08:00"}
      },
      follow_up("Due today: {{ record.title }}"), only_if: asks(["about_deal.value", "more", 5])
    )
    rule("task_made", this(priority: "urgent"), only_if: asks(%w[assignee is wen]))
    deal = make("deal", "value" => 10)["id"]
    task(record: deal, due_on: "2026-12-01")
    work
    ahead = Yenvo::Engine::LookingAhead.new(root, now: Database::NOW).on(deal, days: 30)
    expect(ahead.items.map { |item| [item.what, item.title] }).to eq(
      [["task", "Due today: Ring back"], ["task_changed", "Due today: Ring back"], ["task_late", "Ring back"]]
    )
    pass(to: [2026, 12, 2])
    expect(db[:tasks].where(title: "Due today: Ring back").get(:priority)).to eq(3)
  end

  it "says why a rule did not run on what happened to a task" do
    id = rule("task_made", this(priority: "high"), only_if: asks(%w[assignee is wen]))
    task
    work
    entry = db[:journal].where(what: "task_made").first
    skip = Yenvo::Engine::WhyNot.new(root).skips([entry]).first
    expect([skip.rule.id, skip.plan.why]).to eq([id[:id], "Assignee is Hollie Banner"])
  end

  it "climbs a ladder on the task, also on one about nothing, until that is done" do
    steps = [
      {"after" => {"count" => 1, "unit" => "days", "direction" => "after", "from" => "due"}, "do" => "raise"},
      {"after" => {"count" => 3, "unit" => "days", "direction" => "after", "from" => "due"}, "do" => "raise"}
    ]
    rule("task_made", {"action" => "ladder", "on" => "this", "steps" => steps})
    ids = [task(due_on: "2026-11-25"), task(record: make("deal")["id"], due_on: "2026-11-25"), task]
    work
    pass(to: [2026, 11, 27])
    root.tasks.finish(ids[0], cause: cause("maren", at: Time.utc(2026, 11, 27, 9)))
    pass(to: [2026, 12, 1])
    expect(ids.map { |id| row(id)[:priority] }).to eq([2, 3, 1])
  end

  it "is taken back like any run, what it did to a task about nothing, too" do
    rule("task_made", this(priority: "urgent"), follow_up("Beside"))
    ids = [task, task(record: make("deal")["id"])]
    work
    root.undo.run(db[:runs].order(:id).all, cause: cause("maren"))
    expect(ids.map { |id| row(id)[:priority] }).to eq([1, 1])
    expect(db[:tasks].where(title: "Beside").select_map(:state).uniq).to eq(["dropped"])
  end

  it "asks whoever caused it first, about a task of no record" do
    rule("task_done", follow_up("Call ___").merge("ask" => true))
    root.tasks.finish(task, cause:)
    work
    asked = root.proposals.of("hollie").first
    sent = root.proposals.send_off(asked[:id], {"title" => "Call Aldo"}, cause:)
    expect(sent.values_at(:title, :record_id, :state)).to eq(["Call Aldo", nil, "open"])
  end

  it "stands in the way of whoever takes away what it looks at" do
    rule("task_made", this(priority: "high"), only_if: asks(["about_entry_launch_roster.tide", "is", "morning"]))
    changes = Yenvo::Store::SetupChanges.new(root)
    expect { changes.remove_list("entry/launch_roster", cause: cause("maren")) }.to raise_error(
      Yenvo::Store::Refused, /About tasks/
    )
    rule("task_made", this(priority: "high"), only_if: asks(["about_deal.value", "more", 5]))
    expect { changes.remove_field("deal", "value", cause: cause("maren")) }.to raise_error(
      Yenvo::Store::Refused, /About tasks/
    )
  end
end
