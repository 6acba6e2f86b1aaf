# frozen_string_literal: true

RSpec.describe "Yenvo::Store::Lists" do
  def query(**given)
    Yenvo::Store::Lists::Query.new(
      kind: "deal", filters: {}, search: nil, sort: "changed", down: true, after: nil, limit: 50, **given
    )
  end

  # Goes through all pages.
  def pages(limit: 3, **given)
    titles = []
    after = nil
    loop do
      page = root.lists.page(query(**given, limit:, after:))
      titles.concat(page[:rows].map { |row| row["title"] })
      return titles unless (after = page[:next])
    end
  end

  before do
    lengths = [9, 12, nil, 7, 12, 15, nil]
    %w[Heron Curlew Anchor Lantern Wren Thistle Compass].each_with_index do |name, i|
      make(
        "deal",
        {
          "title" => "Grey #{name}", "boat_length" => lengths[i], "stage" => i.even? ? "quoted" : "enquiry",
          "owner" => %w[hollie osk][i % 2], "survey_type" => [nil, "damage", "insurance"][i % 3]
        }.compact,
        at: Database::NOW + i
      )
    end
  end

  it "pages by key, so that every record comes once, in the order asked for" do
    all = %w[Heron Curlew Anchor Lantern Wren Thistle Compass].map { |name| "Grey #{name}" }
    expect(pages).to eq(all.reverse)
    expect(pages(down: false)).to eq(all)
    expect(pages(sort: "title", down: false)).to eq(all.sort)
    expect(pages(sort: "title", down: true)).to eq(all.sort.reverse)
    expect(pages(sort: "boat_length", down: false, limit: 2)).to eq(
      %w[Lantern Heron Curlew Wren Thistle Anchor Compass].map { |name| "Grey #{name}" }
    )
    expect(pages(sort: "boat_length", down: true, limit: 2)).to eq(
      %w[Thistle Wren Curlew Heron Lantern Compass Anchor].map { |name| "Grey #{name}" }
    )
  end

  it "filters by stage, owner and any choice, several values and none" do
    expect(pages(filters: {"stage" => ["quoted"], "owner" => ["hollie"]}).size).to eq(4)
    expect(pages(filters: {"survey_type" => ["damage"]})).to eq(["Grey Wren", "Grey Curlew"])
    expect(pages(filters: {"survey_type" => ["damage", ""]}).size).to eq(5)
    expect(pages(filters: {"survey_type" => ["insurance"]}, sort: "title", down: false)).to eq(
      ["Grey Anchor", "Grey Thistle"]
    )
    expect(root.lists.count(query(filters: {"stage" => ["enquiry"]}))).to eq(3)
  end

  it "finds titles by the beginnings of their words, and escapes what is typed" do
    expect(pages(search: "gr cur")).to eq(["Grey Curlew"])
    expect(pages(search: "%")).to eq([])
    expect(pages(search: "urlew")).to eq([])
    expect(root.lists.find("wren").map { |row| row[:title] }).to eq(["Grey Wren"])
    expect(root.lists.find("' OR 1=1")).to eq([])
  end

  it "keeps itself in step when a record changes" do
    id = root.lists.find("wren").first[:id]
    change(id, {"title" => "Silver Plover", "boat_length" => nil, "survey_type" => "insurance"}, at: Database::NOW + 60)
    expect(root.lists.find("wren")).to be_empty
    expect(root.lists.find("plover").size).to eq(1)
    expect(pages(sort: "boat_length", down: false).last(3)).to include("Silver Plover")
    expect(pages(filters: {"survey_type" => ["damage"]})).to eq(["Grey Curlew"])
  end

  it "refuses fields that are none" do
    expect { root.lists.page(query(sort: "price")) }.to raise_error(
      Yenvo::Store::Refused, /no field "price" to sort by/
    )
    expect { root.lists.page(query(filters: {"price" => ["1"]})) }.to raise_error(
      Yenvo::Store::Refused, /no field "price" to filter by/
    )
  end
end

RSpec.describe "Yenvo::Store::Lists at 100,000 records", :committed do
  # Filled by numbers in SQL: what is tested is how the database finds rows, not how they came in.
  def fill
    db.run <<~SQL
      INSERT INTO records (kind, title, stage, owner, creator, made_at, changed_at, stage_since, fields)
      SELECT 'deal', CONCAT('Boat ', seq, ' Heron'), 
        ELT(1 + seq % 7, 'enquiry', 'quoted', 'survey_booked', 'accepted', 'in_the_yard', 'afloat', 'lost'),
        ELT(1 + seq % 3, 'hollie', 'osk', 'maren'),
        'hollie', '2026-01-01' + INTERVAL seq MINUTE, '2026-01-01' + INTERVAL seq MINUTE, '2026-01-01',
        JSON_OBJECT('value', seq % 20000, 'survey_type', ELT(1 + seq % 3, 'damage', 'insurance', 'pre_purchase'))
      FROM seq_1_to_100000
    SQL
    db.run "INSERT INTO record_index (kind, field, empty, num, record_id) SELECT 'deal', 'value', 0, " \
      "JSON_VALUE(fields, '$.value'), id FROM records"
    db.run "INSERT INTO record_index (kind, field, empty, word, record_id) SELECT 'deal', 'survey_type', 0, " \
      "JSON_VALUE(fields, '$.survey_type'), id FROM records"
    db.run "INSERT INTO record_index (kind, field, empty, word, record_id) SELECT 'deal', 'title', 0, LOWER(title), " \
      "id FROM records"
    db.run "INSERT INTO record_index (kind, field, empty, word, record_id) SELECT 'deal', '~', 0, 'heron', id FROM " \
      "records"
    db.run "INSERT INTO record_index (kind, field, empty, word, record_id) SELECT 'deal', '~', 0, " \
      "SUBSTRING_INDEX(SUBSTRING_INDEX(title, ' ', 2), ' ', -1), id FROM records"
    db.fetch("ANALYZE TABLE records, record_index, tasks").all
  end

  it "answers each page and each search from an index, reading no more rows than it must", :slow do
    fill
    base = {kind: "deal", filters: {}, search: nil, sort: "changed", down: true, after: nil, limit: 50}
    late =
      root.lists.page(
        Yenvo::Store::Lists::Query.new(**base, after: {"value" => "2026-01-08T00:00:00.000000Z", "id" => 1})
      )
    expect(late[:rows].size).to eq(50)
    {
      "newest" => {}, "deep in the list" => {after: late[:next]}, "by stage" => {filters: {"stage" => ["quoted"]}},
      "by owner" => {filters: {"owner" => ["osk"]}}, "sorted by a number" => {sort: "value"},
      "sorted by title, deep" => {
        sort: "title", down: false, after: {"id" => 1, "value" => "boat 5", "empty" => false}
      },
      "by a choice" => {filters: {"survey_type" => ["damage"]}}, "a common word" => {search: "heron"},
      "a wide range" => {ranges: {"value" => [5, nil]}}, "a narrow range" => {ranges: {"value" => [5, 5.5]}},
      "a range in an order" => {ranges: {"value" => [5, nil]}, sort: "title", down: false}
    }.each do |name, change|
      read = rows_read { root.lists.page(Yenvo::Store::Lists::Query.new(**base, **change)) }
      expect(read).to be < 5_000, "#{name} read #{read} rows"
    end
    expect(rows_read { root.lists.find("77777") }).to be < 300
    expect(rows_read { root.worklist.open(assignee: "hollie") }).to be < 300
  end
end

RSpec.describe "Yenvo::Store::Trash" do
  let(:boat) { make("deal", "title" => "Quiet Hour")["id"] }
  let(:entry) { root.list_entries.put_on(boat, "entry/launch_roster", cause:)["id"] }

  def task(**given) =
    root.tasks.make(
      {"title" => "Look", "assignee" => "wen", "record_id" => entry}.merge(given.transform_keys(&:to_s)), cause:
    )

  before do
    root.interactions.log(entry, "note", "Berthed twice", cause:)
    root.interactions.log(entry, "call", "Asked for a tow", cause:)
    root.links.add(entry, make("contact", "title" => "Aldo")["id"], cause:)
    task
    root.tasks.set_state(task(title: "Begun")[:id], "started", cause:)
    root.tasks.finish(task(title: "Over")[:id], cause:)
  end

  it "says what goes along, and brings all of it back as it was" do
    expect(root.trash.hanging(entry)).to eq(notes: 2, open_tasks: 2, links: 1, kits: 0, lists: 0)
    before = root.records.find!(entry)
    root.list_entries.take_off(entry, cause: cause("tobias"))
    expect(db[:tasks].order(:id).select_map(%i[title state])).to eq(
      [%w[Look dropped], %w[Begun dropped], %w[Over done]]
    )
    expect(root.trash.find(entry)).to include(title: "Quiet Hour", by: "tobias")
    root.trash.put_back(entry, cause: cause("tobias", at: Database::NOW + 60))
    expect(root.records.find!(entry).except("version", "changed")).to eq(before.except("version", "changed"))
    expect(root.interactions.of_record(entry).map { |note| note.values_at(:way, :text, :who, :at) }).to eq(
      [["call", "Asked for a tow", "hollie", Database::NOW], ["note", "Berthed twice", "hollie", Database::NOW]]
    )
    expect(root.links.around(entry).map { |row| row[:title] }).to eq(["Aldo"])
    expect(db[:tasks].order(:id).select_map(%i[title state open])).to eq(
      [["Look", "open", true], ["Begun", "started", true], ["Over", "done", false]]
    )
    expect { root.trash.put_back(entry, cause:) }.to raise_error(Yenvo::Store::NotFound, /nothing to bring back/)
  end

  it "does not bring back twice what was put on the list anew, nor links to what has gone" do
    root.list_entries.take_off(entry, cause:)
    again = root.list_entries.put_on(boat, "entry/launch_roster", cause:)["id"]
    expect(refused { root.trash.put_back(entry, cause:) }["list"]).to match(/again already/)
    root.list_entries.take_off(again, cause:)
    expect(root.trash.put_back(entry, cause:)["id"]).to eq(entry)
  end

  it "keeps it for 30 days" do
    root.list_entries.take_off(entry, cause:)
    work(at: Database::NOW + (29 * 86_400))
    expect(root.trash.find(entry)).not_to be_nil
    work(at: Database::NOW + (31 * 86_400))
    expect(root.trash.find(entry)).to be_nil
  end
end
