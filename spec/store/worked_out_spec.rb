# frozen_string_literal: true

RSpec.describe Yenvo::Store::WorkedOut do
  let(:deal) { root.schema.kind("deal") }

  def add(label, type, formula, of: "deal") =
    Yenvo::Store::SetupChanges.new(root).field(
      of, nil, {"label" => label, "type" => type, "formula" => formula}, cause: cause("maren")
    )

  def indexed(id, field) = db[:record_index].where(record_id: id, field:).select_map([:num, :word, :empty])
  def stale = db[:stale].select_map([:record_id, :on_date]).to_h

  def page(now: Database::NOW, **given)
    root.lists.page(
      Yenvo::Store::Lists::Query.new(
        kind: "deal", filters: {}, search: nil, sort: "changed", down: true, after: nil, limit: 50, now:, **given
      )
    )[:rows].map { |row| row["title"] }
  end

  it "slides by days, by working days, and by a multiple of them, without being touched" do
    add("Working quiet", "number", "working_days_between(made, today)")
    add("Left", "number", "100 - 2 * days_between(made, today)")
    made = Database::NOW - (7 * 86_400)
    id = make("deal", {"title" => "Old"}, at: made)["id"]
    root.worked_out.reindex([id], Database::NOW)
    expect(stale).to eq({})
    [0, 3, 10].each do |days|
      now = Database::NOW + (days * 86_400)
      shown = root.worked_out.fill([root.records.find!(id)], root.schema.kind("deal"), now:).first
      expect(shown["left"]).to eq(100 - (2 * (7 + days)))
      expect(page(filters: {"left" => [shown["left"].to_s]}, now:)).to eq(["Old"])
      expect(page(filters: {"working_quiet" => [shown["working_quiet"].to_s]}, now:)).to eq(["Old"])
      expect(page(ranges: {"left" => [shown["left"] + 1, nil]}, now:)).to eq([])
    end
  end

  it "is looked at again on the day on which it changes, and on no other" do
    add("State of survey", "text", "if(survey_date < today, 'past', if(survey_date = today, 'today', 'ahead'))")
    id = make("deal", "survey_date" => "2026-12-01")["id"]
    expect([indexed(id, "state_of_survey").map { |row| row[1] }, stale]).to eq(
      [["ahead"], {id => Date.new(2026, 12, 1)}]
    )
    expect(root.worked_out.settle(now: Database::NOW + (3 * 86_400))).to eq(0)
    expect(root.worked_out.settle(now: Time.utc(2026, 12, 1, 8))).to eq(1)
    expect([indexed(id, "state_of_survey").map { |row| row[1] }, stale]).to eq(
      [["today"], {id => Date.new(2026, 12, 2)}]
    )
    root.worked_out.settle(now: Time.utc(2026, 12, 2, 8))
    expect(page(filters: {"state_of_survey" => ["past"]}, now: Time.utc(2026, 12, 2, 8))).to eq(["Quiet Hour"])
    change(id, {"survey_date" => nil}, at: Time.utc(2026, 12, 2, 9))
    expect(indexed(id, "state_of_survey").map { |row| row[1] }).to eq(["ahead"])
  end

  it "follows linked records over one link and two, and what they count" do
    add("Land", "text", "boat_owner.country")
    add("Snags of the boat", "number", "boat.open_tickets", of: "ticket")
    aldo = make("contact", "title" => "Aldo", "country" => "ireland")["id"]
    boat = make("deal", "boat_owner" => aldo)["id"]
    first = make("ticket", "boat" => boat)["id"]
    expect(
      [indexed(boat, "land")[0][1], indexed(boat, "open_tickets")[0][0], indexed(first, "snags_of_the_boat")[0][0]]
    ).to eq(["ireland", 1.0, 1.0])
    change(aldo, {"country" => "france"})
    make("ticket", "boat" => boat)
    expect([indexed(boat, "land")[0][1], indexed(first, "snags_of_the_boat")[0][0]]).to eq(["france", 2.0])
    change(first, {"boat" => nil})
    expect(indexed(boat, "open_tickets")[0][0]).to eq(1.0)
  end

  it "leaves what many records have to look at to the worker" do
    add("Land", "text", "boat_owner.country")
    aldo = make("contact", "title" => "Aldo", "country" => "ireland")["id"]
    boats =
      Array.new(described_class::INLINE + 5) { |i| make("deal", "title" => "Boat #{i}", "boat_owner" => aldo)["id"] }
    change(aldo, {"country" => "norway"})
    expect([stale.keys.sort, indexed(boats[0], "land")[0][1]]).to eq([boats.sort, "ireland"])
    work
    expect([stale, boats.map { |id| indexed(id, "land")[0][1] }.uniq]).to eq([{}, ["norway"]])
  end

  it "counts tasks as they are made, done and dropped" do
    add("Open tasks", "number", "count(tasks, open)")
    id = make("deal")["id"]
    tasks = Array.new(3) { |i| root.tasks.make({"title" => "T#{i}", "record_id" => id}, cause:)[:id] }
    expect(indexed(id, "open_tasks")[0][0]).to eq(3.0)
    root.tasks.finish(tasks[0], cause:)
    root.tasks.drop(tasks[1], cause:)
    expect(indexed(id, "open_tasks")[0][0]).to eq(1.0)
    expect(
      root.worked_out.fill([root.records.find!(id)], root.schema.kind("deal"), now: Database::NOW).first["open_tasks"]
    ).to eq(1)
  end

  it "cannot be set by hand, and shows nothing while its formula does not hold" do
    id = make("deal", "value" => 3)["id"]
    expect(refused { change(id, {"open_tickets" => 3}) }["open_tickets"]).to eq(
      "Open tickets is worked out and cannot be set."
    )
    add("Twice", "number", "value * 2")
    root.worked_out.settle(now: Database::NOW)
    expect(indexed(id, "twice")[0][0]).to eq(6.0)
    Yenvo::Store::SetupChanges.new(root).remove_field("deal", "value", cause: cause("maren"), anyway: true)
    shown = root.worked_out.fill([root.records.find!(id)], root.schema.kind("deal"), now: Database::NOW).first
    expect(
      [
        shown["twice"],
        root.schema.formula_problems(root.schema.kind("deal"), root.schema.kind("deal").field("twice")).map(&:text)
      ]
    ).to match([nil, [/there is no "value"/]])
  end
end

RSpec.describe Yenvo::Store::Related do
  def seen(entry)
    row = root.journal.find!(entry)
    event = root.journal.event(row)
    root.snapshots
      .facts([event]) do
        [
          Yenvo::Core::Need.new(chain: [], over: "ticket.boat"), Yenvo::Core::Need.new(chain: [], over: "tasks"),
          Yenvo::Core::Need.new(chain: ["boat_owner"], over: "deal.boat_owner")
        ]
      end
      .first.related
  end

  it "sees the records that led to one, and its tasks, as they were at an event" do
    aldo = make("contact", "title" => "Aldo")["id"]
    boat = make("deal", "boat_owner" => aldo)["id"]
    ticket = make("ticket", "title" => "One", "boat" => boat)["id"]
    task = root.tasks.make({"title" => "T", "record_id" => boat}, cause:)[:id]
    change(boat, {"value" => 1}, at: Database::NOW + 10)
    first = db[:journal].where(record_id: boat, what: "record_changed").max(:id)
    change(ticket, {"title" => "One, renamed"}, at: Database::NOW + 20)
    make("ticket", {"title" => "Two", "boat" => boat}, at: Database::NOW + 20)
    change(ticket, {"boat" => nil}, at: Database::NOW + 30)
    root.tasks.finish(task, cause: cause(at: Database::NOW + 30))
    change(boat, {"value" => 2}, at: Database::NOW + 40)
    last = db[:journal].where(record_id: boat, what: "record_changed").max(:id)
    expect([first, last].map { |entry| seen(entry)[[boat, "ticket.boat"]].map { |image| image["title"] } }).to eq(
      [["One"], ["Two"]]
    )
    expect([first, last].map { |entry| seen(entry)[[boat, "tasks"]].map { |image| image["open"] } }).to eq(
      [[true], [false]]
    )
    expect(seen(last)[[aldo, "deal.boat_owner"]].map { |image| image["title"] }).to eq(["Quiet Hour"])
  end
end

RSpec.describe Yenvo::Store::ListEntries do
  it "puts records on lists that take them, once, tells them, and takes them off" do
    deal = make("deal", "title" => "Sallow")["id"]
    entry = root.list_entries.put_on(deal, "entry/launch_roster", section: "prepared", cause:)
    expect(entry.slice("title", "stage", "about", "owner")).to eq(
      "title" => "Sallow", "stage" => "prepared", "about" => deal, "owner" => "hollie"
    )
    told = db[:journal].where(what: "put_on_list", record_id: deal).get(:detail)
    expect(JSON.parse(told)).to include("list" => "launch_roster", "record" => entry["id"])
    expect(refused { root.list_entries.put_on(deal, "entry/launch_roster", cause:) }["list"]).to eq(
      "It stands on Launch roster already."
    )
    expect(refused { root.list_entries.put_on(deal, "entry/gear_rounds", cause:) }["list"]).to match(
      /takes no deals/
    )
    expect(refused { root.list_entries.take_off(deal, cause:) }["list"]).to match(/Only entries of lists/)
    image = root.list_entries.take_off(entry["id"], cause:)
    expect(
      [
        root.list_entries.of(deal, "entry/launch_roster"), db[:records].where(id: entry["id"]).count,
        db[:past_links].where(record_id: entry["id"]).count
      ]
    ).to eq([[], 0, 1])
    root.list_entries.put_back(image, cause:)
    expect([root.list_entries.of(deal, "entry/launch_roster"), root.records.find!(entry["id"])["stage"]]).to eq(
      [[entry["id"]], "prepared"]
    )
  end

  it "is put back by undo after a rule took it off" do
    deal = make("deal", "title" => "Sallow")["id"]
    entry = root.list_entries.put_on(deal, "entry/launch_roster", cause:)["id"]
    publish(
      "name" => "Off", "trigger" => {"when" => "stage_entered", "stages" => ["lost"]},
      "branches" => [{"do" => [{"action" => "list", "put" => "off", "list" => "launch_roster"}]}]
    )
    change(deal, {"stage" => "lost"})
    work
    expect(root.list_entries.of(deal, "entry/launch_roster")).to eq([])
    items = root.undo.run(root.runs.list.map { |run| root.runs.find!(run[:id]) }, cause: cause("maren"))
    expect([items.map { |item| [item.words, item.back] }, root.list_entries.of(deal, "entry/launch_roster")]).to eq(
      [[["Taken off Launch roster", true]], [entry]]
    )
  end
end
