# frozen_string_literal: true

# Kits in use: where many of them stand, what people do with one, and its dates.
RSpec.describe Yenvo::Store::Copies do
  include KitWords

  describe "read" do
    it "says where many stand by as many queries as for one" do
      use(launch, deal)
      one = selects { root.copies.states_of([copy]) }
      others = 4.times.map { make("deal", "launch_date" => "2027-02-01", "surveyor" => "ines")["id"] }
      others.each { |record| use(launch, record) }
      copies = db[:kit_copies].order(:id).all
      states = nil
      expect(selects { states = root.copies.states_of(copies) }).to be <= one
      expect(states.values.map { |state| [state.open.size, state.progress.over?] }.uniq).to eq([[2, false]])
    end

    it "leaves out those whose version does not fit any more, and those that are there none of" do
      use(launch, deal)
      Yenvo::Store::SetupChanges.new(root).remove_field("deal", "launch_date", cause: cause("maren"), anyway: true)
      root.forget
      expect([root.copies.states_of([copy]), root.copies.states_of([]), root.copies.children([])]).to eq([{}, {}, {}])
      expect(root.copies.running_on(deal)).to eq([])
    end
  end

  it "follows the last of several moves of its date, and stays where that came back to what it was" do
    use(launch, deal)
    before = due("Look over the hull")
    change(deal, {"launch_date" => "2027-03-01"})
    change(deal, {"launch_date" => "2027-02-15"})
    work
    moved = due("Look over the hull")
    expect([before, moved]).to eq(%w[2026-12-23 2027-01-25])
    change(deal, {"launch_date" => "2027-05-01"})
    change(deal, {"launch_date" => "2027-02-15"})
    work
    expect(due("Look over the hull")).to eq(moved)
  end

  it "can be stopped, or moved on, also when its version no longer fits the set-up" do
    use(launch, deal)
    db[:fields].where(kind: "deal", key: "surveyor").delete
    root.setup_store.changed(who: "maren", now: Database::NOW)
    root.forget
    expect(refused { root.copies.skip(copy[:id], "hoist", cause:) }["kit"]).to match(
      /does not fit the set-up any more/
    )
    root.copies.stop(copy[:id], cause:)
    expect([copy[:state], open_titles]).to eq(["stopped", []])
  end

  it "takes the other way out, and ends there" do
    use(launch, deal)
    finish("Book a hoist slot for Quiet Hour")
    finish("Look over the hull", "Unsafe")
    expect(open_titles).to eq(["Stop the launch, tell the owner"])
    finish("Stop the launch, tell the owner")
    expect([copy[:state], db[:tasks].count]).to eq(["done", 3])
    expect(refused { root.copies.stop(copy[:id], cause:) }["kit"]).to match(/is finished already/)
  end

  it "dates open tasks anew when the target moves; done ones and those re-dated by hand stay, and the journal says " \
    "so" do
    use(launch, deal)
    finish("Look over the hull", "Sound")
    root.tasks.put_off(db[:tasks].where(title: "Antifoul").get(:id), on: "2026-12-01", cause:)
    change(deal, {"launch_date" => "2027-02-01"})
    work
    expect([due("Book a hoist slot for Quiet Hour"), due("Look over the hull"), due("Antifoul")]).to eq(
      %w[2026-12-23 2026-12-23 2026-12-01]
    )
    expect(db[:tasks].where(title: "Antifoul").get(:redated)).to be(true)
    moved = root.history.of_record(deal).find { |entry| entry["what"] == "kit_dated" }["detail"]
    expect(moved).to include(
      "why" => "Launch date", "from" => "2027-01-18", "to" => "2027-02-01",
      "moved" => [{"title" => "Book a hoist slot for Quiet Hour", "from" => "2026-12-18", "to" => "2026-12-23"}],
      "kept" => ["Antifoul"]
    )
    change(deal, {"launch_date" => nil})
    work
    expect(due("Book a hoist slot for Quiet Hour")).to be_nil
    change(deal, {"launch_date" => "2027-01-18"})
    work
    expect(due("Book a hoist slot for Quiet Hour")).to eq("2026-12-18")
  end

  it "keeps the version a copy began with, and moves it to another with a preview" do
    use(launch, deal)
    plain = Builders.launch_kit(target: "launch_date", queue: "yard_work")
    plain["phases"][0]["tasks"].reject! { |task| task["key"] == "hoist" }
    plain["phases"][1]["tasks"].find { |task| task["key"] == "launch" }["after"] = [[{"task" => "mast"}]]
    plain["phases"][0]["tasks"][0]["due"]["count"] = 14
    plain["phases"][0]["tasks"] << {
      "key" => "keys", "title" => "Find the keys", "assign" => {"to" => "queue", "queue" => "yard_work"}
    }
    newer = publish_kit(plain, row: launch)
    expect(root.copies.preview_move(copy[:id], newer[:version_id], now: Database::NOW)).to eq(
      stay: ["Look over the hull"], go: ["Book a hoist slot for Quiet Hour"], come: ["Find the keys"],
      dated: ["Look over the hull: Wed 23 Dec 2026 becomes Mon 4 Jan 2027"]
    )
    root.copies.move(copy[:id], newer[:version_id], cause:)
    expect(open_titles).to eq(["Look over the hull", "Find the keys"])
    expect([due("Look over the hull"), copy[:version_id]]).to eq(["2027-01-04", newer[:version_id]])
  end

  it "lets a task be skipped, come or not, and can be stopped" do
    use(launch, deal)
    root.copies.skip(copy[:id], "hoist", cause:)
    root.copies.skip(copy[:id], "mast", cause:)
    expect(open_titles).to eq(["Look over the hull", "Launch"])
    expect(refused { root.copies.skip(copy[:id], "hoist", cause:) }["task"]).to match(/over already/)
    root.copies.stop(copy[:id], cause:)
    work
    expect([open_titles, copy[:state], db[:tasks].where(state: "dropped").count]).to eq([[], "stopped", 3])
    expect(history(deal)).to include("kit_begun", "kit_passed", "kit_stopped")
    expect { use(launch, deal) }.not_to raise_error
  end

  it "takes back a finished task when nothing that came after it was touched" do
    use(launch, deal)
    finish("Look over the hull", "Sound")
    hull = db[:tasks].where(title: "Look over the hull").get(:id)
    root.tasks.take_back(hull, cause:)
    work
    expect(open_titles).to eq(["Book a hoist slot for Quiet Hour", "Look over the hull"])
    finish("Look over the hull", "Unsafe")
    expect(open_titles).to include("Stop the launch, tell the owner")
    root.tasks.put_off(
      db[:tasks].where(title: "Stop the launch, tell the owner").get(:id), on: "2026-12-01", cause:
    )
    expect(refused { root.tasks.take_back(hull, cause:) }["task"]).to match(
      /“Stop the launch, tell the owner”, which came after it, has been worked on since/
    )
  end

  it "refuses to be used twice at once, on another kind of record, or when retired while rules use it" do
    use(launch, deal)
    expect(refused { use(launch, deal) }["kit"]).to match(/is in use on “Quiet Hour” already/)
    expect(refused { use(launch, make("contact")["id"]) }["kit"]).to match(/is for a deal/)
    rule =
      publish(
        {"trigger" => {"when" => "record_made"}, "branches" => [{"do" => [{"action" => "kit", "kit" => "launch"}]}]}
      )
    expect(refused { root.kits.retire(launch[:id], true, cause: cause("maren")) }["kit"]).to include(
      "is used by “#{rule[:name]}”"
    )
    db[:rule_spans].where(rule_id: rule[:id]).delete
    db[:rules].where(id: rule[:id]).update(
      version_id: nil, draft:
        JSON.generate(
          {
            "format" => "yenvo-rule/1", "name" => "x", "record" => "deal",
            "trigger" => {"when" => "record_made"}, "branches" => []
          }
        )
    )
    root.kits.retire(launch[:id], true, cause: cause("maren"))
    root.forget
    expect(root.schema.kits["launch"]).to be_nil
  end
end
