# frozen_string_literal: true

# The whole language against a real database: what is watched, changed, made and told.
RSpec.describe "The language of rules" do
  def image(id) = root.records.find!(id)
  def last_run = root.runs.find!(root.runs.list.first[:id])

  let(:made) { {"when" => "record_made"} }

  it "meets what is linked, put on a list, logged, and a code in a note" do
    publish(
      {
        "record" => "contact",
        "trigger" => {"when" => "linked", "kinds" => ["deal"]}, "branches" => [{"do" => [task("linked")]}]
      }
    )
    rule({"when" => "put_on_list", "lists" => ["launch_roster"]}, task("listed"))
    rule({"when" => "interaction_logged", "ways" => ["call"]}, task("call: {{ event.who }}"))
    rule({"when" => "code", "code" => "!haul"}, task("haul"))
    aldo = make("contact", "title" => "Aldo")["id"]
    deal = make("deal", "boat_owner" => aldo)["id"]
    root.list_entries.put_on(deal, "entry/launch_roster", cause:)
    root.interactions.log(deal, "call", "He calls back", cause:)
    root.interactions.log(deal, "note", "!hauling and !Haul", cause:)
    root.interactions.log(deal, "note", "Please !haul her", cause:)
    work
    expect(titles).to eq(["linked", "listed", "call: Hollie Banner", "haul"])
    note = root.interactions.of_record(deal).first
    root.interactions.edit(note[:id], "Please !haul her soon", record: deal, cause:)
    root.interactions.edit(root.interactions.of_record(deal)[1][:id], "> !haul", record: deal, cause:)
    work
    expect(titles.size).to eq(4)
    root.interactions.edit(root.interactions.of_record(deal)[1][:id], "> !haul\n!haul", record: deal, cause:)
    work
    expect(titles.last(2)).to eq(%w[haul haul])
    expect(refused { root.interactions.edit(note[:id], "x", record: deal, cause: cause("wen")) }["text"]).to match(
      /Only Hollie Banner/
    )
  end

  it "meets what comes in by form or message, and what is started by hand, and nothing else" do
    rule({"when" => "form_sent"}, task("form"))
    rule({"when" => "message_in"}, task("message"))
    hand = rule({"when" => "by_hand"}, task("by hand"))
    make("deal")
    root.records.make("deal", {"title" => "By form"}, cause: cause(nil), came: {"door" => "form"})
    one = root.records.make("deal", {"title" => "By post"}, cause: cause(nil), came: {"door" => "message"})
    root.rules.start(hand[:id], [one["id"]], cause:)
    work
    expect(titles).to eq(["form", "message", "by hand"])
  end

  it "sets, moves and assigns the record and linked ones, and a later action sees it" do
    rule(
      {"when" => "stage_entered", "stages" => ["accepted"]},
      {
        "action" => "set",
        "values" => [
          {"field" => "deposit", "formula" => "value * 0.2"},
          {"field" => "launch_date", "date" => {"count" => 10, "unit" => "working_days", "from" => "event"}},
          {"field" => "surveyor", "copy" => "owner"}
        ]
      },
      {"action" => "set", "of" => "boat_owner", "values" => [{"field" => "berth", "text" => "for {{ record.title }}"}]},
      {"action" => "assign", "assign" => {"to" => "person", "person" => "tobias"}},
      {"action" => "move", "to" => "in_the_yard"}, task("Deposit {{ record.deposit }}, {{ record.stage }}")
    )
    aldo = make("contact", "title" => "Aldo")["id"]
    deal = make("deal", "boat_owner" => aldo, "value" => 1_000, "stage" => "quoted")["id"]
    change(deal, {"stage" => "accepted"})
    work
    expect(image(deal).slice("deposit", "launch_date", "surveyor", "owner", "stage")).to eq(
      "deposit" => 200, "launch_date" => "2026-12-08", "surveyor" => "hollie", "owner" => "tobias",
      "stage" => "in_the_yard"
    )
    expect([image(aldo)["berth"], titles]).to eq(["for Quiet Hour", ["Deposit €200, In the yard"]])
  end

  it "makes records linked to this one, puts on and takes off lists, logs, tells, and makes tasks about what it made" do
    rule(
      {"when" => "record_made"},
      {
        "action" => "record", "kind" => "ticket",
        "values" => [
          {"field" => "title", "text" => "Look at {{ record.title }}"}, {"field" => "severity", "value" => "minor"}
        ],
        "same" => ["owner"], "link" => "boat"
      },
      task("Inspect", of: "made.1"),
      {"action" => "list", "put" => "on", "list" => "launch_roster", "section" => "prepared"},
      {"action" => "log", "way" => "note", "text" => "Welcome {{ record.title }}"},
      {
        "action" => "notice",
        "assign" => {"to" => "several", "persons" => %w[wen priya]}, "text" => "New: {{ record.title }}"
      },
      {"action" => "set", "of" => "made.3", "values" => [{"field" => "keel_checked", "value" => true}]}
    )
    deal = make("deal")["id"]
    work
    ticket = db[:records].where(kind: "ticket").first
    entry = db[:records].where(kind: "entry/launch_roster").first
    expect(image(ticket[:id]).slice("title", "boat", "severity", "owner")).to eq(
      "title" => "Look at Quiet Hour", "boat" => deal, "severity" => "minor", "owner" => "hollie"
    )
    expect(db[:tasks].get(:record_id)).to eq(ticket[:id])
    expect(image(entry[:id]).slice("stage", "about", "keel_checked")).to eq(
      "stage" => "prepared", "about" => deal, "keel_checked" => true
    )
    expect(root.interactions.of_record(deal).map { |row| row.values_at(:text, :who) }).to eq(
      [["Welcome Quiet Hour", nil]]
    )
    expect(%w[wen priya hollie].map { |who| root.notices.unread(who) }).to eq([2, 1, 0])
  end

  it "changes the open tasks that meet the condition: priority, date, person, state" do
    rule(
      {"when" => "record_changed", "field" => "value"},
      {
        "action" => "tasks",
        "which" => {
          "any" => [
            {"field" => "priority", "test" => "is", "value" => "low"},
            {"field" => "title", "test" => "begins_with", "value" => "call"}
          ]
        },
        "priority" => "urgent", "due" => {"count" => 1, "unit" => "working_days"},
        "assign" => {"to" => "person", "person" => "priya"}
      },
      {
        "action" => "tasks", "which" => {"all" => [{"field" => "way", "test" => "is", "value" => "letter"}]},
        "state" => "dropped", "note" => "no need"
      }
    )
    deal = make("deal", "value" => 1)["id"]
    given =
      [
        ["Call Aldo", "call", "high"], %w[Wash other low], %w[Write letter normal], %w[Stay other normal]
      ].map do |title, way, priority|
        root.tasks.make({"title" => title, "way" => way, "priority" => priority, "record_id" => deal}, cause:)[
          :id
        ]
      end
    change(deal, {"value" => 2})
    work
    found = given.map { |id| root.tasks.find!(id) }
    expect(found.map { |row| [row[:priority], row[:assignee], row[:due_on]&.iso8601, row[:state]] }).to eq(
      [
        [3, "priya", "2026-11-25", "open"], [3, "priya", "2026-11-25", "open"], [1, "hollie", nil, "dropped"],
        [1, "hollie", nil, "open"]
      ]
    )
    expect(db[:journal].where(cause_run: last_run[:id]).select_map(:what)).to eq(
      %w[task_changed task_changed task_dropped]
    )
  end

  describe "the rule's owner" do
    let(:queue) { {"to" => "queue", "queue" => "callbacks"} }
    let(:owner) { {"assign" => {"to" => "rule_owner"}, "fallback" => queue} }

    it "gets the task, is told and owns the record, whoever that is when it runs; away, somebody else does" do
      row = rule(
        made, {"action" => "task", "title" => "Look", **owner},
        {"action" => "notice", "text" => "Made", **owner, "fallback" => {"to" => "person", "person" => "wen"}},
        how_often: "every_time"
      )
      make("deal")
      work
      db[:rules].where(id: row[:id]).update(owner: "tobias")
      root.begin_epoch("owner", who: "maren", now: Database::NOW)
      make("deal")
      work
      db[:rules].where(id: row[:id]).update(owner: nil)
      root.begin_epoch("owner", who: "maren", now: Database::NOW)
      make("deal")
      work
      expect(db[:tasks].order(:id).select_map(%i[assignee queue])).to eq(
        [["maren", nil], ["tobias", nil], [nil, "callbacks"]]
      )
      expect(db[:notices].where(what: nil).order(:id).select_map(:person)).to eq(%w[maren tobias wen])
    end

    it "is known before the save, too, and to a try" do
      row = publish(
        "name" => "Mine", "run" => "before_save", "trigger" => made, "branches" => [
          {"do" => [{"action" => "assign", **owner, "fallback" => {"to" => "person", "person" => "wen"}}]}
        ]
      )
      deal = make("deal")["id"]
      expect(image(deal)["owner"]).to eq("maren")
      compiled = root.in_force.compiled([row[:version_id]])[row[:version_id]]
      _, plan = Yenvo::Engine::Trying.new(root, compiled, who: "hollie", now: Database::NOW).one(deal)
      expect(plan.steps.map { |_, _, step| step.words }).to eq(["Owner becomes Maren Oduya"])
    end

    it "is refused in a kit" do
      plain = {
        "format" => "yenvo-kit/1", "name" => "K", "record" => "deal",
        "phases" => [{"name" => "P", "tasks" => [{"key" => "a", "title" => "A", **owner}]}]
      }
      kit = Yenvo::Core::Kits::KitReader.read!(plain)
      problems = Yenvo::Core::Kits::Checks.look(kit, root.schema, key: "k")[0]
      expect(problems.map(&:to_s)).to include(/assign.*to.*must be somebody else; a kit has no rule/)
    end
  end

  it "runs at most once in so many days for a record" do
    rule({"when" => "record_changed", "field" => "value"}, task, how_often: "once_in_days", every_days: 5)
    deal = make("deal")["id"]
    [0, 1, 4, 6, 7].each do |day|
      change(deal, {"value" => day + 1}, at: Database::NOW + (day * 86_400))
      work(at: Database::NOW + (day * 86_400) + 1)
    end
    expect(titles.size).to eq(2)
    skip = Yenvo::Engine::WhyNot.new(root).skips(root.journal.watched(record: deal)).map { |one| one.plan.why }
    expect(skip.tally["Already ran within 5 days"]).to eq(3)
  end

  it "pauses itself when its fuse blows, by hour and by record and day, says so and tells its owner" do
    row = rule({"when" => "record_changed", "field" => "value"}, task, fuse: {"per_hour" => 4, "per_record_day" => 3})
    deal = make("deal")["id"]
    6.times { |i| change(deal, {"value" => i + 1}) }
    work
    expect(titles.size).to eq(3)
    kept = root.rules.find!(row[:id])
    expect([kept[:state], kept[:paused_because]]).to eq(
      ["paused", "Its fuse blew: it ran 3 times within a day for one deal."]
    )
    expect(root.notices.of("maren").first[:text]).to match(/“A rule” has paused itself/)
    missed =
      root.journal.watched(record: deal)
        .find { |entry| root.runs.of_entries([entry[:id]]).empty? && entry[:what] == "record_changed" }
    expect(Yenvo::Engine::WhyNot.new(root).one(missed, row[:id]).plan.why).to match(/Its fuse had blown/)
    root.rules.resume(row[:id], cause: cause("maren"))
    expect(root.rules.find!(row[:id])[:paused_because]).to be_nil
    others = Array.new(6) { make("deal", "value" => 1)["id"] }
    others.each { |id| change(id, {"value" => 2}, at: Database::NOW + 7_200) }
    work(at: Database::NOW + 7_201)
    expect(titles.size).to eq(7)
    expect(root.rules.find!(row[:id])[:paused_because]).to match(/4 times within an hour/)
  end

  it "ends a chain after eight links, and says so" do
    one =
      rule(
        {"when" => "record_changed", "field" => "value"},
        {"action" => "set", "values" => [{"field" => "deposit", "formula" => "value + 1"}]}
      )
    rule(
      {"when" => "record_changed", "field" => "deposit"},
      {"action" => "set", "values" => [{"field" => "value", "formula" => "deposit + 1"}]}
    )
    deal = make("deal")["id"]
    change(deal, {"value" => 1})
    work
    expect(db[:runs].count).to eq(8)
    last = root.journal.watched(record: deal).first
    expect([last[:depth], Yenvo::Engine::WhyNot.new(root).one(last, one[:id]).plan.why]).to eq(
      [8, "The chain of rules ended here, after 8 links"]
    )
  end

  it "fails a run as a whole when one of its actions cannot be carried out" do
    publish(
      {
        "name" => "Wants a title", "run" => "before_save",
        "trigger" => {"when" => "record_changed", "field" => "value"},
        "branches" => [
          {"do" => [{"action" => "set", "values" => [{"field" => "title", "text" => "{{ record.survey_type }}"}]}]}
        ]
      }
    )
    rule(
      {"when" => "record_made"}, task("kept back"),
      {"action" => "set", "values" => [{"field" => "value", "value" => 3}]}
    )
    make("deal")
    work
    expect([titles, root.runs.list.map { |run| run.values_at(:state, :why) }]).to eq(
      [[], [["failed", "The rule “Wants a title” stopped this save: Title takes a few words; it cannot be empty."]]]
    )
  end

  describe "worked-out fields" do
    def page(**given) =
      root.lists.page(
        Yenvo::Store::Lists::Query.new(
          kind: "deal", filters: {}, search: nil, sort: "changed", down: true, after: nil, limit: 50,
          now: Database::NOW, **given
        )
      )[:rows].map { |row| row["title"] }

    it "are sorted and filtered, right on every day, without a record being touched" do
      make("deal", "title" => "Old", :at => Database::NOW - (10 * 86_400))
      make("deal", "title" => "New", :at => Database::NOW - (3 * 86_400))
      expect(page(sort: "days_quiet")).to eq(%w[Old New])
      expect(page(filters: {"days_quiet" => ["10"]})).to eq(["Old"])
      index = db[:record_index].where(field: "days_quiet").order(:record_id).select_map(:num)
      later = Database::NOW + (4 * 86_400)
      expect(
        [page(filters: {"days_quiet" => ["7"]}, now: later), page(filters: {"days_quiet" => ["10"]}, now: later)]
      ).to eq([["New"], []])
      root.worked_out.settle(now: later)
      expect(db[:record_index].where(field: "days_quiet").order(:record_id).select_map(:num)).to eq(index)
    end

    it "are filtered by range, like any number or date" do
      [0, 5, 9].each do |days|
        make("deal", {"title" => "Quiet #{days}", "value" => days * 10}, at: Database::NOW - (days * 86_400))
      end
      expect(page(ranges: {"days_quiet" => [5, nil]}).sort).to eq(["Quiet 5", "Quiet 9"])
      expect(page(ranges: {"days_quiet" => [5, 8]}, sort: "value")).to eq(["Quiet 5"])
      expect(page(ranges: {"value" => [nil, 50]}, now: Database::NOW + 86_400).sort).to eq(["Quiet 0", "Quiet 5"])
      expect(page(ranges: {"days_quiet" => [10, nil]}, now: Database::NOW + (5 * 86_400)).sort).to eq(
        ["Quiet 5", "Quiet 9"]
      )
      expect(refused { page(ranges: {"owner" => [1, 2]}) }.keys).to eq(["owner"])
    end

    it "follow the records they count, and conditions see them as they were at the event" do
      publish(
        {
          "trigger" => {"when" => "record_changed", "field" => "value"},
          "only_if" => {"all" => [{"field" => "open_tickets", "test" => "at_least", "value" => 2}]},
          "branches" => [{"do" => [task("{{ record.open_tickets }} open")]}]
        }
      )
      deal = make("deal", "value" => 1)["id"]
      first, = Array.new(2) { make("ticket", "boat" => deal)["id"] }
      expect(page(filters: {"open_tickets" => ["2"]})).to eq(["Quiet Hour"])
      change(deal, {"value" => 2})
      change(first, {"stage" => "closed"})
      expect(page(filters: {"open_tickets" => ["1"]})).to eq(["Quiet Hour"])
      change(deal, {"value" => 3})
      work
      expect(titles).to eq(["2 open"])
      change(first, {"boat" => nil})
      expect(
        root.worked_out.fill([image(deal)], root.schema.kind("deal"), now: Database::NOW).first["open_tickets"]
      ).to eq(1)
    end
  end

  it "ends a job that cannot go on, and holds up nothing else" do
    row = publish(survey_rule)
    job = root.jobs.start(row, total: 1, filter: {"filters" => {"gone" => ["x"]}}, cause: cause("maren"))
    make("deal", "stage" => "survey_booked")
    work
    expect([root.jobs.find!(job[:id])[:state], titles.size, root.waiting.count]).to eq(["failed", 1, 0])
  end

  it "runs on the records that match now, bit by bit, none twice, and can be stopped" do
    deals = Array.new(5) { |i| make("deal", "value" => i * 100)["id"] }
    row =
      publish(
        {
          "trigger" => {"when" => "record_changed", "field" => "value"},
          "only_if" => {"all" => [{"field" => "value", "test" => "at_least", "value" => 200}]},
          "branches" => [{"do" => [task("{{ record.value }}")]}]
        }
      )
    job = root.jobs.start(row, total: 3, filter: {}, cause: cause("maren"))
    expect(refused { root.jobs.start(row, total: 3, filter: {}, cause: cause("maren")) }["rule"]).to match(
      /is being run on records already/
    )
    work
    expect(root.jobs.find!(job[:id]).values_at(:state, :looked_at, :started)).to eq(["done", 5, 3])
    expect(titles).to contain_exactly("€200", "€300", "€400")
    root.jobs.start(row, total: 3, filter: {}, cause: cause("maren"))
    work
    expect(titles.size).to eq(3)
    third = root.jobs.start(row, total: 3, filter: {}, cause: cause("maren"))
    root.jobs.stop(third[:id], now: Database::NOW)
    work
    expect(root.jobs.find!(third[:id]).values_at(:state, :looked_at)).to eq(["stopped", 0])
    expect(deals.size).to eq(5)
  end
end
