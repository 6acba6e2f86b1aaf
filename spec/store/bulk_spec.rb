# frozen_string_literal: true

RSpec.describe Yenvo::Store::BulkChanges, :engine do
  include TableWords
  include MarkedHouse

  def deals(count, **more) =
    Array.new(count) { |n| make("deal", {"title" => "Boat #{n}", **more.transform_keys(&:to_s)})["id"] }

  def doing(what, who = "maren", kind: "deal", **more)
    given = {"kind" => kind, "what" => what, **more.transform_keys(&:to_s)}
    Yenvo::Store::BulkDoing.new(root, Yenvo::Store::Sight.new(root, who), given)
  end

  def begin_change(doing, records, who = "maren", at: Database::NOW) =
    root.bulk_changes.begin(doing, records, cause: cause(who, at:))

  def change_all(what, records, who = "maren", **more)
    begin_change(doing(what, who, **more), records, who).tap { work_out_jobs }
  end

  def undo(row)
    root.bulk_changes.go_on(row[:id], "undoing", cause: cause("maren"))
    work_out_jobs
    counts(row)
  end

  def callbacks = {"to" => "queue", "queue" => "callbacks"}

  def one_bit = Yenvo::Engine::LongWork.new(root, log: SemanticLogger["spec"]).take(now: Database::NOW)
  def counts(row) = root.bulk_changes.counts([row[:id]]).fetch(row[:id], {})
  def stages = db[:records].where(kind: "deal").group_and_count(:stage).as_hash(:stage, :count)
  def state(row) = root.bulk_changes.find!(row[:id])[:state]
  def refused(words) = raise_error(Yenvo::Store::Refused, words)

  it "moves 300 deals a stage with their tasks, is stopped half-way, goes on, and is undone as one" do
    publish(
      "name" => "Quote them", "trigger" => {"when" => "stage_entered", "stages" => ["quoted"]},
      "branches" => [{"do" => [{"action" => "task", "title" => "Quote {{ record.title }}",
                                "assign" => {"to" => "queue", "queue" => "callbacks"}},
        {"action" => "set", "values" => [{"field" => "value", "value" => 5}]}]}]
    )
    ids = deals(300)
    work
    row = begin_change(doing("set", field: "stage", value: "quoted"), ids)
    one_bit
    root.bulk_changes.stop(row[:id], now: Database::NOW)
    expect(one_bit).to eq(0)
    work
    expect([stages, counts(row), state(row)]).to eq(
      [{"enquiry" => 200, "quoted" => 100}, {"changed" => 100, "waiting" => 200}, "stopped"]
    )
    expect(db[:tasks].where(open: true).count).to eq(100)
    root.bulk_changes.go_on(row[:id], "running", cause: cause("maren"))
    one_bit
    root.bulk_changes.stop(row[:id], now: Database::NOW)
    work
    change(ids[0], {"stage" => "survey_booked"})
    root.tasks.finish(db[:tasks].where(record_id: ids[1]).get(:id), cause: cause("maren"))
    work
    expect(undo(row)).to eq("waiting" => 100, "back" => 198, "stayed" => 2)
    work
    expect(stages).to eq("enquiry" => 299, "survey_booked" => 1)
    expect(db[:tasks].where(open: true).count).to eq(0)
    expect(root.records.find!(ids[2])["value"]).to be_nil
    expect(db[:runs].where(state: "ran").count).to eq(0)
    expect { undo(row) }.to refused(/undone already/)
  end

  it "puts on a list, takes off it, takes away, starts a rule, and gives all of that back" do
    ids = deals(3)
    on = change_all("list", ids, list: "entry/launch_roster")
    entries = db[:records].where(kind: "entry/launch_roster")
    expect([counts(on), entries.count]).to eq([{"changed" => 3}, 3])
    again = change_all("list", ids, list: "entry/launch_roster")
    expect(counts(again)).to eq("same" => 3)
    off = change_all("take_off", entries.select_map(:id), kind: "entry/launch_roster")
    expect([counts(off), entries.count]).to eq([{"changed" => 3}, 0])
    expect([undo(off), entries.count]).to eq([{"back" => 3}, 3])
    expect([undo(on), entries.count]).to eq([{"back" => 3}, 0])
    gone = change_all("trash", ids)
    expect([counts(gone), stages]).to eq([{"changed" => 3}, {}])
    expect([undo(gone), stages]).to eq([{"back" => 3}, {"enquiry" => 3}])
    rule = publish("name" => "By hand", "trigger" => {"when" => "by_hand"},
      "branches" => [{"do" => [{"action" => "task", "title" => "Do", "assign" => callbacks}]}])
    started = change_all("rule", ids, rule: rule[:id])
    work
    expect(db[:tasks].where(open: true, title: "Do").count).to eq(3)
    expect([undo(started), db[:tasks].where(open: true).count]).to eq([{"back" => 3}, 0])
  end

  it "says of each why it was refused, and leaves the others alone" do
    db[:fields].where(kind: "deal", key: "order_number").update(unique: true)
    root.setup_store.changed(who: nil, now: Database::NOW)
    root.forget
    ids = deals(2)
    gone = deals(1)[0]
    contact = make("contact", {"title" => "Aldo"})["id"]
    root.trash.remove(gone, cause: cause("maren"))
    row = change_all("set", [*ids, gone, contact], field: "order_number", value: "A1")
    expect(counts(row)).to eq("changed" => 1, "refused" => 3)
    reasons = root.bulk_changes.rows(row[:id]).exclude(reason: nil).order(:record_id).select_map(:reason)
    expect(reasons).to match([/A1/, /There is no record #{gone}/, /It is no deal/])
  end

  it "does what whoever began it may, and nothing with what is hidden" do
    mine = deals(1, owner: "osk")
    hers = deals(2, owner: "callum")
    let_see("deal", "everyone", changed: "owner")
    row = change_all("set", mine + hers, "osk", field: "value", value: 7)
    expect(counts(row)).to eq("changed" => 1, "refused" => 2)
    let_see("deal", "owner")
    row = change_all("set", hers, "osk", field: "value", value: 8)
    expect(root.bulk_changes.rows(row[:id]).select_map(:reason)).to all(match(/There is no record/))
    expect { doing("rule", "osk", rule: 1) }.to refused(/started by leads/)
    row = begin_change(doing("set", "osk", field: "value", value: 9), mine, "osk")
    db[:people].where(key: "osk").update(active: false)
    root.setup_store.changed(who: nil, now: Database::NOW)
    root.forget
    work_out_jobs
    expect(root.bulk_changes.find!(row[:id])).to include(state: "stopped", failed: /does not work here any more/)
  ensure
    db[:people].where(key: "osk").update(active: true)
    root.forget
  end

  it "leads to nothing that is hidden, and says no word of it" do
    hidden = make("contact", {"title" => "Zadok", "owner" => "callum"})["id"]
    let_see("contact", "owner")
    expect { doing("set", "osk", field: "boat_owner", value: hidden) }.to refused(/Owner of the boat takes a contact/)
    row = begin_change(doing("set", "maren", field: "boat_owner", value: hidden), deals(1), "osk")
    seen = Yenvo::Store::Sight.new(root, "osk")
    expect { Yenvo::Store::BulkDoing.again(root, seen, row).words }.to refused(/takes a contact/)
  end

  it "keeps nobody from working by beginning one after the other" do
    3.times { begin_change(doing("trash"), deals(1)) }
    expect { begin_change(doing("trash"), deals(1)) }.to refused(/3 changes of many under way/)
  end

  it "refuses what cannot be done before anything is begun" do
    {
      ["set", {field: "nothing"}] => /no field/, ["set", {field: "value", value: "x"}] => /Value takes/,
      ["set", {field: "title", value: " "}] => /cannot be empty/,
      ["set", {field: "made", value: ""}] => /kept by Yenvo/,
      ["list", {list: "entry/words_about_us"}] => /takes no deals/, ["list", {}] => /That list/,
      ["take_off", {}] => /Only entries/, ["trash", {kind: "entry/launch_roster"}] => /taken off their list/,
      ["set", {kind: "boat"}] => /no such kind/, ["nothing", {}] => /no such change/
    }.each { |(what, more), words| expect { doing(what, **more) }.to refused(words) }
    begun = ->(records) { db.transaction(savepoint: true) { begin_change(doing("trash"), records) } }
    expect { begun.call([]) }.to refused(/nothing to change/)
    stub_const("#{described_class}::MOST", 2)
    expect { begun.call(deals(3)) }.to refused(/More than 2 records/)
    expect(db[:bulk_changes].count + db[:jobs].count).to eq(0)
  end

  it "goes by all that match, as they are when it begins, and is forgotten after a week" do
    ids = deals(4)
    change(ids[0], {"stage" => "quoted"})
    query = Yenvo::Store::Lists::Query.new(kind: "deal", filters: {"stage" => ["enquiry"]}, search: "boat",
      sort: "changed", down: true, after: nil, limit: 50)
    row = begin_change(doing("set", field: "stage", value: "quoted"), root.lists.ids(query))
    deals(1)
    work_out_jobs
    expect([counts(row), stages]).to eq([{"changed" => 3}, {"quoted" => 4, "enquiry" => 1}])
    later = Database::NOW + (8 * 86_400)
    late = -> { root.bulk_changes.go_on(row[:id], "undoing", cause: cause("maren", at: later)) }
    expect { late.call }.to refused(/more than 7 days/)
    expect(root.bulk_changes.purge(now: later)).to eq(1)
    expect(db[:bulk_rows].count).to eq(0)
  end
end
