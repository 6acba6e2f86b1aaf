# frozen_string_literal: true

RSpec.describe Yenvo::Store::Arrivals do
  include DoorWords

  def take(door, event, at: Database::NOW) =
    root.arrivals.take(door, event.except("specversion"), cause: Yenvo::Store::Journal::Cause.house(at))

  def entries = db[:records].where(kind: "entry/words_about_us").order(:id)

  it "makes a record of each event once, whatever is sent again" do
    door = a_door
    one = take(door, an_event)
    again = take(door, an_event("1", {"headline" => "Other"}))
    expect([one.row[:state], one.again, again.again, again.row[:record_id]]).to eq(
      ["taken", false, true, one.row[:record_id]]
    )
    expect(entries.select_map(:title)).to eq(["Fair winds"])
    expect(root.records.find!(one.row[:record_id])).to include("stars" => 5, "web_link" => "https://sea.example/1")
    take(door, an_event("1", {}, source: "https://other.example"))
    expect(entries.count).to eq(2)
    detail = JSON.parse(db[:journal].where(what: "record_made").order(:id).get(:detail))
    expect(detail).to eq("door" => "message", "through" => "reviews")
    expect(JSON.parse(root.program_doors.find!("reviews")[:sample])["source"]).to eq("https://other.example")
  end

  it "keeps what is refused, with the reason by field, and takes it again when the table is mended" do
    door = a_door
    row = take(door, an_event("1", {"site" => "paper", "stars" => "many"})).row
    expect([row[:state], row[:record_id], JSON.parse(row[:fields])]).to match(
      ["refused", nil, {"came_from" => /Came from has no choice "paper"/, "stars" => /Stars takes a number/}]
    )
    expect(entries.count).to eq(0)
    again = root.arrivals.again(row[:id], cause: cause("maren"))
    expect(again[:state]).to eq("refused")
    rows = DoorWords::WORDS["rows"].reject { |one| one["field"] == "stars" }
    rows = rows.map { |one| (one["field"] == "came_from") ? {**one, "choices" => {"paper" => "sailing_paper"}} : one }
    root.program_doors.write(door[:key], {"map" => {**DoorWords::WORDS, "rows" => rows}}, cause: cause("maren"))
    expect(root.arrivals.all_again(door[:key], cause: cause("maren"))).to eq("taken" => 1, "refused" => 0)
    expect([entries.count, root.arrivals.find!(row[:id])]).to match([1, include(state: "taken", settled_by: "maren")])
    expect { root.arrivals.again(row[:id], cause: cause("maren")) }.to raise_error(
      Yenvo::Store::Refused, /does not wait any more/
    )
    expect { root.arrivals.put_away(row[:id], cause: cause("maren")) }.to raise_error(Yenvo::Store::Refused)
  end

  it "puts away, and forgets all after 30 days" do
    row = take(a_door, an_event("1", {"stars" => "many"})).row
    root.arrivals.put_away(row[:id], cause: cause("maren"))
    expect([root.arrivals.page, root.arrivals.page(state: "away").size]).to eq([[], 1])
    expect(root.arrivals.purge(now: Database::NOW + (29 * 86_400))).to eq(0)
    expect(root.arrivals.purge(now: Database::NOW + (31 * 86_400))).to eq(1)
  end

  it "changes the one that is found by a key, or makes it" do
    door = a_door(how: "both", key: "web_link")
    one = take(door, an_event).row
    two = take(door, an_event("2", {"link" => "https://SEA.example/1", "stars" => 3})).row
    expect([two[:record_id], two[:made], entries.count]).to eq([one[:record_id], false, 1])
    expect(root.records.find!(one[:record_id])["stars"]).to eq(3)
    root.program_doors.write(door[:key], {"map" => {**DoorWords::WORDS, "how" => "change", "key" => "web_link"}},
      cause: cause("maren"))
    three = take(root.program_doors.find!(door[:key]), an_event("3")).row
    expect(JSON.parse(three[:fields])).to match("web_link" => /There is no mention with Web link/)
    four = take(root.program_doors.find!(door[:key]), an_event("4", {"link" => nil})).row
    expect(JSON.parse(four[:fields])).to match("web_link" => /Web link is missing/)
  end

  it "finds the record that a link leads to by one of its fields" do
    door = a_door
    id = make("contact", "title" => "Aldo", "email" => "aldo@sea.example")["id"]
    row = take(door, an_event("1", {"author" => {"mail" => "Aldo@sea.example"}})).row
    expect(root.records.find!(row[:record_id])["written_by"]).to eq(id)
    lost = take(door, an_event("2", {"author" => {"mail" => "nobody@sea.example"}})).row
    expect(JSON.parse(lost[:fields])).to eq("written_by" => "Written by: there is no record with nobody@sea.example.")
  end

  it "says so when its list, a field or the type is not there" do
    door = a_door(types: ["review.written"])
    expect(take(door, an_event("1", {}, type: "other")).row[:reason]).to match(/type other are not taken/)
    db[:fields].where(kind: "entry/words_about_us", key: "stars").update(removed_at: Database::NOW)
    root.transaction { root.setup_store.changed(who: nil, now: Database::NOW) }
    expect(take(door, an_event("2")).row[:reason]).to match(/Its table has to be mended first: rows\[2\].field/)
    db[:kinds].where(key: "entry/words_about_us").update(removed_at: Database::NOW)
    root.transaction { root.setup_store.changed(who: nil, now: Database::NOW) }
    expect(take(door, an_event("3")).row[:reason]).to match(/list that it is for was taken away/)
  end

  it "opens no door whose table is not whole, and says what leans on a field" do
    key, secret = root.program_doors.make("New", "deal", cause: cause("maren"))
    expect(secret).to match(/\Awhsec_/)
    expect { root.program_doors.write(key, {"open" => true}, cause: cause("maren")) }.to raise_error(
      Yenvo::Store::Refused, /rows must fill in something/
    )
    a_door
    expect(Yenvo::Store::RuleUses.new(root).of("field entry/words_about_us stars")).to include(
      hash_including(what: "door", name: "Reviews (door of a program)")
    )
  end

  it "tries a message on a table and keeps nothing" do
    id = make("contact", "title" => "Aldo", "email" => "aldo@sea.example")["id"]
    map, = root.program_doors.read(a_door(how: "both", key: "web_link"))
    values, wrong, found = root.arrivals.try(map, an_event("1", {"author" => {"mail" => "aldo@sea.example"}}))
    expect([values["written_by"], wrong, found, db[:arrivals].count]).to eq([id, {}, nil, 0])
    expect(root.arrivals.try(map, an_event("1", {"stars" => "x"}))[1].keys).to eq(["stars"])
  end

  it "takes one event once, and finds one record, of many that come at the same time", :committed do
    door = a_door(how: "both", key: "web_link")
    go = Queue.new
    events = [an_event("1"), an_event("1"), an_event("2", {"link" => "https://sea.example/1"}), an_event("1")]
    threads = events.map { |event| Thread.new { go.pop && take(door, event).row } }
    4.times { go << true }
    rows = threads.map(&:value)
    expect([entries.count, db[:arrivals].count, rows.map { |row| row[:record_id] }.uniq.size]).to eq([1, 2, 1])
  end
end
