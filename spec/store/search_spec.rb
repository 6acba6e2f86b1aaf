# frozen_string_literal: true

RSpec.describe Yenvo::Store::Search do
  include MarkedHouse

  def search(who = "maren") = described_class.new(root, Yenvo::Store::Sight.new(root, who))

  def find(sort, text, who: "maren", **more) =
    search(who).of(sort, text, **more)[0].map { |one| [one.title, one.why] }

  def pages(sort, text, limit: 3)
    all, after = [], nil
    loop do
      found, after = search.of(sort, text, after:, limit:)
      all.concat(found.map(&:id))
      return all unless after
    end
  end

  let!(:aldo) do
    make("contact", {"title" => "Aldo Renn", "email" => "aldo@sea.example", "club" => "Café du Nord",
      "phone" => "+353 87 123 4567"})["id"]
  end
  let!(:deal) { make("deal", {"title" => "Quiet Hour", "order_number" => "AB-12", "boat_owner" => aldo})["id"] }

  it "finds records by any text, number, e-mail and digits, and says by which" do
    {
      "hour quiet" => [["Quiet Hour", "Title"]], "ab-12" => [["Quiet Hour", "Order number: AB-12"]],
      "cafe nord" => [["Aldo Renn", "Club: Café du Nord"]], "aldo@sea" => [["Aldo Renn", "E-mail aldo@sea.example"]],
      "renn nord" => [["Aldo Renn", "Club: Café du Nord"]], "234567" => [["Aldo Renn", "Phone +353 87 123 4567"]],
      "##{deal}" => [["Quiet Hour", "Number #{deal}"]], "hou" => [["Quiet Hour", "Title"]], "our" => [], "%" => [],
      "" => [], "quiet 13" => []
    }.each { |text, found| expect([text, find("records", text)]).to eq([text, found]) }
  end

  it "finds notes, calls and mails with the place in them, tasks, people, rules and kits" do
    root.interactions.log(deal, "call", "#{"Long before. " * 20}He wants teak decks.", cause: cause)
    root.tasks.make({"title" => "Order teak", "record_id" => deal, "text" => "Three planks"}, cause: cause)
    publish("name" => "Teak rule", "trigger" => {"when" => "record_made"},
      "branches" => [{"do" => [{"action" => "task", "title" => "Saw planks",
                                "assign" => {"to" => "queue", "queue" => "callbacks"}}]}])
    publish_demo_kit("11-rigging-job")
    expect(find("notes", "teak deck")).to match([["Quiet Hour", /\ACall of Tue 24 Nov 2026: ….*wants teak decks\.\z/]])
    expect(find("people", "maren")).to eq([["Maren Oduya", "Name"]])
    expect(find("people", "maren@fennick")).to match([["Maren Oduya", /E-mail maren@/]])
    expect(find("rules", "teak")).to eq([["Teak rule", "Name"]])
    expect(find("rules", "saw plan")).to eq([["Teak rule", "It says: Saw planks"]])
    expect(find("kits", "rigging").size).to eq(1)
    all = search.overview("teak")
    expect(all.keys).to eq(%w[records tasks notes people rules kits])
    expect(all.transform_values { |found, _| found.size }).to include("notes" => 1, "rules" => 1, "records" => 0)
  end

  it "finds tasks by title and text", :committed do
    id = make("deal", {"title" => "Quiet Hour"})["id"]
    root.tasks.make({"title" => "Order teak", "record_id" => id, "text" => "Three planks"}, cause: cause)
    expect(find("tasks", "teak ord")).to eq([["Order teak", "Title"]])
    expect(find("tasks", "planks")).to eq([["Order teak", "Text: Three planks"]])
    expect(find("tasks", "of planks")).to eq([])
  end

  it "goes on by key, each once, the newest first" do
    11.times { |n| root.interactions.log(deal, "note", "Varnish #{n}", cause: cause) }
    notes = db[:interactions].select_order_map(:id)
    records = Array.new(7) { |n| make("deal", {"title" => "Varnish #{n}"})["id"] }
    expect([pages("notes", "varn"), pages("records", "varnish")]).to eq([notes.reverse, records.reverse])
  end

  it "looks for the rarest word first, and tells where to go on when it has looked at enough" do
    %w[FIRST AT_ONCE].each { |name| stub_const("Yenvo::Store::ByWords::#{name}", 4) }
    stub_const("Yenvo::Store::ByWords::MOST_OF_ONE", 0.4)
    12.times { |n| root.interactions.log(deal, "note", "Common #{n.zero? ? "rare" : "word"}", cause: cause) }
    found, after = search.of("notes", "common wor")
    expect([found.size, after]).to match([8, Integer])
    expect(find("notes", "common rare").size).to eq(1)
    12.times { |n| root.interactions.log(deal, "note", "Apart#{n} together", cause: cause) }
    expect(pages("notes", "together apart").size).to eq(12)
  end

  it "is in step with what is changed, taken away, brought back, merged and erased" do
    root.interactions.log(deal, "note", "Varnish", cause: cause)
    note = db[:interactions].max(:id)
    root.interactions.edit(note, "Paint", record: deal, cause: cause)
    expect([find("notes", "varnish"), find("notes", "paint").size]).to eq([[], 1])
    change(deal, {"order_number" => "ZZ-9"})
    expect([find("records", "ab-12"), find("records", "zz-9").size]).to eq([[], 1])
    root.trash.remove(deal, cause: cause)
    expect([find("records", "quiet"), find("notes", "paint")]).to eq([[], []])
    expect(db[:words].where(word: %w[quiet paint]).count).to eq(0)
    root.trash.put_back(deal, cause: cause)
    expect([find("records", "quiet").size, find("notes", "paint").size]).to eq([1, 1])
    other = make("deal", {"title" => "Other"})["id"]
    Yenvo::Store::Merging.new(root).merge(other, [deal], {}, cause: cause)
    expect([find("records", "quiet"), find("notes", "paint")]).to match([[], [["Other", /Paint/]]])
  end

  it "shows nothing that is hidden, nor by what is kept" do
    make("deal", {"title" => "Hidden varnish", "owner" => "callum"})
    root.interactions.log(deal, "note", "Varnish", cause: cause)
    expect([find("records", "varnish", who: "osk").size, find("records", "nord", who: "osk").size]).to eq([1, 1])
    let_see("deal", "owner")
    let_see("contact", "everyone", kept: ["club"])
    expect(%w[records notes].flat_map { |sort| find(sort, "varnish", who: "osk") }).to eq([])
    expect([find("records", "nord", who: "wen"), find("records", "nord").size]).to eq([[], 1])
  end

  it "forgets what a note said when two change it one after the other, each having read the first" do
    root.interactions.log(deal, "note", "Varnish", cause: cause)
    note = db[:interactions].max(:id)
    old = db[:interactions].where(id: note).first
    root.interactions.edit(note, "Paint", record: deal, cause: cause)
    allow(root.interactions).to receive(:find!).and_wrap_original do |find, id|
      (@read ? find.call(id) : old).tap { @read = true }
    end
    root.interactions.edit(note, "Tar", record: deal, cause: cause)
    expect([find("notes", "paint"), find("notes", "tar").size, db[:words].where(word: "paint").count]).to eq([[], 1, 0])
  end

  it "asks for each word however many there are" do
    root.interactions.log(deal, "note", "one two three four five six seven eight nine", cause: cause)
    expect(find("notes", "one two three four five six seven eight nine").size).to eq(1)
    expect(find("notes", "one two three four five six seven eight zebra")).to eq([])
  end

  it "indexes what was there before, bit by bit" do
    root.interactions.log(deal, "note", "Varnish", cause: cause)
    words = db[:words].order(:sort, :word, :ref).all
    db[:words].delete
    root.jobs.begin_for_house("index_words", "Words", 3, {}, cause)
    long = Yenvo::Engine::LongWork.new(root, log: SemanticLogger["spec"])
    nil while root.jobs.under_way? && long.take(now: Database::NOW)
    expect(db[:words].order(:sort, :word, :ref).all).to eq(words)
  end
end
