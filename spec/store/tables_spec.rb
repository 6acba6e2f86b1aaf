# frozen_string_literal: true

RSpec.describe Yenvo::Store::Imports do
  include TableWords

  let(:owners) do
    "Name;E-mail;Phone;Country;Cover expires\r\nAldo Renn;aldo@sea.example;+353 555 0147;Ireland;31.12.2026\r\n" \
      "\"Quill, Lucia\";lucia@sea.example;;france;01.02.2027\r\n"
  end

  before { allow_files }

  def allow_files = root.files = Dir.mktmpdir

  it "guesses how a table is written and what goes where, by name and by sample" do
    row = a_table(owners)
    plan = JSON.parse(row[:plan])
    expect(plan["form"]).to eq("separator" => ";", "encoding" => "UTF-8", "header" => true)
    expect(plan["map"]["rows"].map { |one| one.values_at("field", "path", "form").compact }).to eq(
      [%w[title c0], %w[email c1], %w[phone c2], %w[country c3], %w[cover_expires c4 day_first]]
    )
    heads, rows = root.imports.sample(row)
    expect([heads[0], rows[1][0]]).to eq(["Name", "Quill, Lucia"])
    bare = a_table("aldo@sea.example,Aldo\nlucia@sea.example,Lucia\n")
    expect(JSON.parse(bare[:plan])["map"]["rows"]).to eq([{"field" => "email", "path" => "c0"}])
    expect(root.imports.sample(bare)[0]).to eq(["Column 1", "Column 2"])
  end

  def mapped(text, **more)
    row = a_table(text)
    map = JSON.parse(row[:plan])["map"]
    rows = map["rows"] | [{"field" => "title", "path" => "c0"}]
    root.imports.write(row[:id],
      {"map" => map.merge("rows" => rows, **more.transform_keys(&:to_s)), "empties" => more[:empties] == true})
  end

  it "takes cards (RFC 6350) as tables, also those that it gave out itself" do
    made = make("contact", {"title" => "Quill, Lucia", "email" => "lucia@sea.example", "phone" => "+353 555 0147",
                            "berth" => "A12", "country" => "ireland"})
    cells = Struct.new(:kind, :image).new(root.schema.kind("contact"), root.records.find!(made["id"]))
    texts = cells.kind.own_fields.map { |field| Yenvo::Core::Cell.text(field, cells.image[field.key], root.schema) }
    require "yenvo/web"
    given = +""
    Yenvo::Web::ContactCards.new(cells.kind) { |_| [[cells.image], [texts], nil] }.each { |part| given << part }
    other = "BEGIN:VCARD\nVERSION:3.0\nFN:Bo\\, the one\nEMAIL;TYPE=work:bo@sea.example\nTEL;TYPE=cell:+1 555 0100\n" \
            "TEL:+1 555 0199\nNOTE:Likes\\nrain\nEND:VCARD\n"
    row = bring_in(a_table(given + other, name: "cards.vcf"))
    expect(written(row)).to include("made" => 2, "refused" => 0)
    alike, bo = contacts.order(:id).all.last(2).map { |one| Yenvo::Store::Image.of(one) }
    keys = %w[title email phone berth country]
    expect(alike.slice(*keys)).to eq(root.records.find!(made["id"]).slice(*keys))
    expect(bo).to include("title" => "Bo, the one", "email" => "bo@sea.example", "phone" => "+1 555 0100")
    expect { a_table("BEGIN:VCARD\nbroken") }.to raise_error(Yenvo::Store::Refused, /no whole card/)
  end

  it "looks at every row first, writes nothing, and names each bad one with its line, field and what it takes" do
    bad = "No mail;nobody;;Ireland;31.12.2026\r\n;x@sea.example;;Ireland;\r\nBo;bo@sea.example;;Atlantis;\r\n" \
          "Cy;cy@sea.example;;;31.02.2027\r\n"
    row = look(mapped(owners + bad))
    expect(row[:state]).to eq("looked")
    expect(looked(row)).to eq("made" => 2, "changed" => 0, "same" => 0, "refused" => 4, "rows" => 6)
    expect(refused(row)).to match(
      [[4, {"email" => /takes an e-mail address/}], [5, {"title" => /has to be filled in/}],
        [6, {"country" => /has no choice.*Atlantis/}], [7, {"cover_expires" => /2027-02-31/}]]
    )
    expect(contacts.count).to eq(0)
  end

  it "writes the good rows, with journal, index and links, and no rule meets them unless asked" do
    publish("name" => "New", "record" => "contact", "trigger" => {"when" => "record_made"},
      "branches" => [{"do" => [{"action" => "task", "title" => "Greet", "assign" => {"to" => "owner"},
                                "fallback" => {"to" => "queue", "queue" => "callbacks"}}]}])
    row = bring_in(mapped(owners))
    expect([row[:state], written(row)]).to eq(["done", {"made" => 2, "changed" => 0, "same" => 0, "refused" => 0}])
    work
    expect(db[:tasks].count).to eq(0)
    made = root.records.find!(contacts.get(:id))
    expect(made).to include("title" => "Aldo Renn", "email" => "aldo@sea.example", "country" => "ireland",
      "cover_expires" => "2026-12-31", "owner" => "hollie", "stage" => "asking", "version" => 1)
    alike = make("contact", made.slice("title", "email", "phone", "country", "cover_expires"), who: "hollie")
    index = ->(id) { db[:record_index].where(record_id: id).order(:field, :word).select_map(%i[field empty num word]) }
    expect(index.call(made["id"])).to eq(index.call(alike["id"]))
    rows = %i[records journal].map { |table| [made, alike].map { |one| shape(table, one["id"]) } }
    rows.each { |one, other| expect(one).to eq(other) }
    bring_in(mapped("Name\nBo\n"), rules: true)
    work
    expect(db[:tasks].join(:records,
      id: :record_id).select_map(Sequel[:records][:title])).to contain_exactly("Aldo Renn", "Bo")
  end

  def shape(table, id)
    key = (table == :journal) ? :record_id : :id
    row = db[table].where(key => id).first.except(:id, :record_id, :entry_id, :detail)
    row.merge(entry: (table == :records) && !db[:records].where(id:).get(:entry_id).nil?, after: nil)
  end

  it "changes those that are there by a key, tells what is the same, and empties only what it is asked to" do
    aldo = make("contact",
      {"title" => "Aldo", "email" => "ALDO@sea.example", "phone" => "+353 555 0100", "country" => "ireland"})
    text = "Name;E-mail;Phone;Country\nAldo;aldo@sea.example;;Ireland\nBo;bo@sea.example;;\n" \
           "Bo;bo@sea.example;+1 555 0100;\n"
    row = look(mapped(text, how: "both", key: "email"))
    expect(looked(row)).to include("made" => 1, "changed" => 2, "same" => 0)
    row = step(row, "running", rules: false)
    expect(written(row)).to eq("made" => 1, "changed" => 2, "same" => 0, "refused" => 0)
    expect(root.records.find!(aldo["id"])).to include("email" => "aldo@sea.example", "phone" => "+353 555 0100")
    expect(contacts.order(:id).last[:fields]).to include("+1 555 0100")
    again = bring_in(mapped(text, how: "change", key: "email"))
    expect(written(again)).to eq("made" => 0, "changed" => 1, "same" => 2, "refused" => 0).or eq(
      "made" => 0, "changed" => 0, "same" => 3, "refused" => 0
    )
    bring_in(mapped(text.lines.first(2).join, how: "both", key: "email", empties: true))
    expect(root.records.find!(aldo["id"])).not_to include("phone")
    lone = look(mapped("Name;E-mail\nCy;cy@sea.example\n", how: "change", key: "email"))
    expect(refused(lone)).to eq([[2, {"email" => "There is no contact with E-mail cy@sea.example."}]])
  end

  it "finds links by a field of the other kind, persons by e-mail, and says what is not there" do
    boat = make("deal", {"title" => "Quiet Hour"})["id"]
    text = "Snag,Boat,Owner\nPump leaks,quiet hour,wen@fennick.example\nMast,Nowhere,\nKeel,,nobody@fennick.example\n"
    row = root.imports.add("ticket", "snags.csv", StringIO.new(text), cause: cause)
    rows = [{"field" => "title", "path" => "c0"}, {"field" => "boat", "path" => "c1", "by" => "title"},
      {"field" => "owner", "path" => "c2"}]
    root.imports.write(row[:id], {"map" => {"how" => "make", "types" => [], "rows" => rows}})
    row = bring_in(row)
    expect(refused(row)).to match([[3, {"boat" => "Boat: there is no deal with Title Nowhere."}],
      [4, {"owner" => /person/}]])
    made = root.records.find!(db[:records].where(kind: "ticket").get(:id))
    expect(made).to include("boat" => boat, "owner" => "wen")
    expect(root.links.around(boat).map { |one| one.values_at(:title, :field) }).to eq([["Pump leaks", "boat"]])
    expect(db[:journal].where(record_id: boat).select_map(:what)).to include("linked")
  end

  it "brings nothing in a second time that stands once, whether it is there or came a moment ago" do
    db[:fields].where(kind: "contact", key: "email").update(unique: true)
    root.setup_store.changed(who: nil, now: Database::NOW)
    root.forget
    make("contact", {"title" => "Aldo", "email" => "aldo@sea.example"})
    text = "Name;E-mail\nA;ALDO@sea.example\nB;b@sea.example\nC;B@sea.example\n"
    row = look(mapped(text))
    expect(refused(row).map { |line, problems| [line, problems.keys] }).to eq([[2, ["email"]], [4, ["email"]]])
    expect(written(step(row, "running", rules: false))).to include("made" => 1, "refused" => 2)
  ensure
    db[:fields].where(kind: "contact", key: "email").update(unique: false)
    root.forget
  end

  it "is written once, however often it is started, and goes on where it stopped" do
    text = "Name\n#{Array.new(1_200) { |n| "Owner #{n}\n" }.join}"
    row = look(mapped(text))
    root.imports.begin(row[:id], "running", cause: cause, rules: false)
    expect {
      root.imports.begin(row[:id], "running", cause: cause)
    }.to raise_error(Yenvo::Store::Refused, /brought in already/)
    long = Yenvo::Engine::LongWork.new(root, log: SemanticLogger["spec"])
    long.take(now: Database::NOW)
    expect(contacts.count).to be_between(499, 500)
    root.imports.stop(row[:id], now: Database::NOW)
    expect(long.take(now: Database::NOW)).to eq(0)
    row = step(root.imports.find!(row[:id]), "running")
    expect([row[:state], contacts.count, contacts.distinct.select(:title).count]).to eq(["done", 1_200, 1_200])
    expect { root.imports.begin(row[:id], "running", cause: cause) }.to raise_error(Yenvo::Store::Refused, /in already/)
  end

  it "is taken back whole, but for what somebody has changed since" do
    aldo = make("contact", {"title" => "Aldo", "email" => "aldo@sea.example", "country" => "ireland"})["id"]
    row = bring_in(mapped("Name;E-mail;Country\nAldo;aldo@sea.example;France\nBo;bo@sea.example;\nCy;cy@sea.example;\n",
      how: "both", key: "email"))
    cy = contacts.where(title: "Cy").get(:id)
    change(cy, {"phone" => "+353 555 0100"})
    row = step(row, "undoing")
    expect([row[:state], written(row).slice("back", "stayed")]).to eq(["undone", {"back" => 2, "stayed" => 1}])
    expect(contacts.select_map(:title)).to eq(%w[Aldo Cy])
    expect(root.records.find!(aldo)["country"]).to eq("ireland")
    expect(db[:trash].count).to eq(0)
  end

  it "tells apart what is known by texts longer than the index holds" do
    long = "x" * 70
    one, other = %w[A B].map { |end_| make("contact", {"title" => "#{long}#{end_}", "country" => "ireland"})["id"] }
    row = bring_in(mapped("Name;Country\n#{long}b;France\n", how: "change", key: "title"))
    expect(written(row)).to include("changed" => 1)
    expect([one, other].map { |id| root.records.find!(id)["country"] }).to eq(%w[ireland france])
  end

  it "leaves what people have hung on it since, when it is taken back" do
    row = bring_in(mapped("Name\nAldo\nBo\n"))
    make("deal", {"title" => "Quiet Hour", "boat_owner" => contacts.where(title: "Bo").get(:id)})
    expect(written(step(row, "undoing"))).to include("back" => 1, "stayed" => 1)
    expect(contacts.select_map(:title)).to eq(["Bo"])
  end

  it "gives way to other long work, and can be forgotten by hand" do
    row = mapped("Name\nAldo\n")
    root.imports.begin(row[:id], "looking", cause: cause)
    other = root.jobs.begin_for_house("redate", "Tasks move", 0, {}, cause("maren"))
    expect(root.transaction { root.jobs.claim[:id] }).to eq(other[:id])
    expect { root.imports.forget!(row[:id]) }.to raise_error(Yenvo::Store::Refused, /being looked at/)
    root.imports.stop(row[:id], now: Database::NOW)
    expect(root.imports.forget!(row[:id])[:file]).to be_nil
    stub_const("Yenvo::Store::Imports::MOST_OF_ALL", 5)
    mapped("Name\nBo\n")
    expect { a_table("Name\nCy\n") }.to raise_error(Yenvo::Store::Refused, /Forget one of them/)
  end

  it "refuses what is no table, and forgets each after a week" do
    ["", "\x00\x01\x02" * 10].each do |bytes|
      expect { a_table(bytes) }.to raise_error(Yenvo::Store::Refused)
    end
    row = bring_in(mapped(owners))
    expect(root.imports.purge(now: Database::NOW + (8 * 86_400))).to eq(1)
    expect(root.imports.find!(row[:id])[:file]).to be_nil
    expect { root.imports.begin(row[:id], "undoing", cause: cause) }.to raise_error(Yenvo::Store::Refused, /forgotten/)
  end

  it "survives tables that are broken in every way" do
    ["a\"b,c\nd,e\n", "\"never closed\nx\n", "Name\r\rX\r", ",,,,\n,,,\n", "Name#{",x" * 5_000}\n#{"y," * 5_000}\n",
      "\xFF\xFE\x41", "Name\n\xC3\x28\n", "#{"x" * 2_000_000}\n", "Name\n=1+1\n"].each do |text|
      row = a_table(text.b)
      map = {"how" => "make", "types" => [], "rows" => [{"field" => "title", "path" => "c0"}]}
      row = look(root.imports.write(row[:id], {"map" => map}))
      expect(row[:state]).to eq("looked"), "#{text[0, 20].inspect}: #{row[:failed]}"
      root.imports.purge(now: Database::NOW + (8 * 86_400))
    end
  end
end
