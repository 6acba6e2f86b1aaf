# frozen_string_literal: true

RSpec.describe Yenvo::Store::Erasing do
  include MarkedHouse
  include LetterWords
  include DoorWords
  include TableWords

  def away(id) = root.trash.remove(id, cause: cause("maren"))
  def erase(id) = root.erasing.begin(id, cause: cause("maren"))

  def put(name, bytes, place) = root.attachments.add(place, name, bytes, cause: cause("maren"))[:id]
  def bytes(id) = File.binread(root.attachments.open(id)[1])

  def print_one(markdown)
    head = Yenvo::Core::Papers::Letterhead.new(name: "Saltmarsh Yard")
    Yenvo::Core::Papers::Markdown.print(markdown, letterhead: head, page: "a4", title: "Q", at: Database::NOW)
  end

  def work_off(at = Database::NOW)
    nil until root.erasing.some(now: at).zero?
  end

  # @return [Hash{String => Array}] by table and column, what stands there with a word in it
  def found(word)
    all = db.from(Sequel[:information_schema][:columns]).where(table_schema: Sequel.function(:database))
    columns = all.select_map(%i[table_name column_name])
    columns.each_with_object({}) do |(table, column), all|
      rows = db[table.to_sym].where(Sequel.lit("CAST(? AS CHAR) LIKE ?", Sequel.identifier(column), "%#{word}%"))
      texts = rows.select_map(Sequel.cast(Sequel.identifier(column), String))
      all["#{table}.#{column}"] = texts if texts.any?
    end
  end

  it "leaves no word of a record in any table and in no file, wherever rules and people carried it", :engine,
    :committed do
    root.files = Dir.mktmpdir
    places = fill_house(%w[maren callum], carrying: true)
    contacts = places.select { |_, (place)| place[0] == "contact" }.keys
    gone = contacts[0]
    change(gone, {"email" => "zq@sea.example", "phone" => "+353 1 998877"})
    others = places.select { |_, (place)| place[0] == "deal" }.keys
    others.each { |id| put("said.txt", "#{mark(gone)} and zq@sea.example", {record_id: id}) }
    printed = print_one("Of **#{mark(gone)}**, #{mark(contacts[1])}")
    paper = put("said.pdf", printed, {record_id: others.last})
    expect(found(mark(gone)).keys).to include("records.title", "journal.after", "runs.actions", "tasks.title")
    away(gone)
    erase(gone)
    work_off
    expect(found(mark(gone))).to eq({})
    expect(found("zq@sea.example").merge(found("998877"))).to eq({})
    files = Dir["#{root.files}/**/*"].select { |path| File.file?(path) }
    expect(files.size).to eq(db[:attachments].count)
    expect(files.map { |path| File.binread(path) }.grep(/#{mark(gone)}|zq@sea/)).to eq([])
    expect(bytes(paper)).to include("Of (erased), #{mark(contacts[1])}")
    expect(found(mark(contacts[1]))).not_to eq({})
    expect(root.records.find!(contacts[1])["title"]).to eq("#{mark(contacts[1])} boat")
    # What is left can be told, and met by rules.
    told = Yenvo::Store::History.new(root).stories(db[:journal].order(:id).all).map(&:to_s)
    expect(told).to include("Maren Oduya erased the contact for good")
    db[:journal].where(record_id: gone).all.each { |row| root.journal.views(root.journal.event(row), row[:epoch]) }
  end

  describe "of a contact" do
    let(:odd) { "O\"Zadok & Söhne" }
    let(:gone) { make("contact", {"title" => odd, "email" => "zadok@sea.example", "phone" => "+353 87 556677"})["id"] }
    let(:deal) { make("deal", {"title" => "Quiet Hour", "boat_owner" => gone})["id"] }

    def nowhere
      work_off
      ["Zadok", "zadok", "ZADOK", "556677"].to_h { |word| [word, found(word)] }.reject { |_, all| all.empty? }
    end

    def erased
      away(gone)
      erase(gone)
      nowhere
    end

    before { root.files = Dir.mktmpdir }

    it "reaches mails, letters, what programs sent, tables, the audit and mails to people of the house" do
      sent = a_sent_mail(deal, to: "#{odd} <zadok@sea.example>")
      own = {"to" => "maren@yard.example", "subject" => "Your day", "text" => "Call #{odd.upcase}"}
      root.outbox.add("mail", "mail server", own, cause: cause("maren"))
      a_mail_door
      letter = Yenvo::Core::LetterReader.read(a_letter("I am #{odd}", from: "Z <zadok@sea.example>"))
      root.letters.take(letter, to: "snags@yard.example", cause: cause("maren"))
      root.returned.mark(
        Yenvo::Core::LetterReturn.new(address: "zadok@sea.example", status: "5.1.1", words: "none",
          message_id: nil), db[:deliveries].where(id: sent[:id]).first, cause: cause("maren")
      )
      door = a_door
      refused = an_event("1", {"stars" => "zadok@sea.example", "headline" => odd})
      root.arrivals.take(door, refused, cause: cause("maren"))
      bring_in(a_table("Name,E-mail,Phone\nZadok,zadok@sea.example,+353 87 556677\n,zadok@sea.example,\n",
        how: "change", key: "email"))
      root.audit.note("taken_out", "took out the file “a” of “#{odd}”", who: "maren", at: Database::NOW,
        about: "record #{gone}")
      root.notices.add(["maren"], "#{odd} rang", at: Database::NOW, record_id: deal)
      expect(found("adok").keys.size).to be > 15
      expect(erased).to eq({})
      expect(db[:audit].reverse(:id).get(:words)).to eq("erased the contact #{gone} for good")
      expect(db[:audit].where(about: "record #{gone}", what: "taken_out").get(:words)).to match(/erased since/)
      expect { db[:audit].update(words: "") }.to raise_error(Sequel::DatabaseError, /only ever added to/)
    end

    it "takes its words out of the records that were linked with it, and finds these by them no more" do
      change(deal, {"title" => "Boat of o\"zadok & söhne"})
      make("ticket", {"title" => "#{odd}: pump", "boat" => deal, "found" => "zadok@sea.example called"})
      other = make("contact", {"title" => "Bo Lind", "phone" => "+353 87 556677"})["id"]
      root.links.add(gone, other, cause: cause("maren"))
      root.links.remove(gone, other, cause: cause("maren"))
      task = root.tasks.make({"title" => "Ring #{odd}", "record_id" => deal}, cause: cause("maren"))[:id]
      erased.then { |left| expect(left.keys).to eq(["556677"]) }
      expect(root.records.find!(deal)["title"]).to eq("Boat of (erased)")
      expect(root.task_rows.find!(task)[:title]).to eq("Ring (erased)")
      # A phone that another has is its own, now and before.
      expect(root.records.find!(other)["phone"]).to eq("+353 87 556677")
      past = db[:journal].where(record_id: other, what: "record_made").get(:after)
      expect(JSON.parse(past)).to include("phone" => "+353 87 556677", "title" => "Bo Lind")
      expect(root.records.find!(deal)["boat_owner"]).to eq(gone)
    end
  end

  describe "in the files of other records" do
    let(:gone) { make("contact", {"title" => "Zadok & Söhne", "email" => "zadok@sea.example"})["id"] }
    let(:deal) { make("deal", {"title" => "Quiet Hour", "boat_owner" => gone})["id"] }
    let(:audit) { db[:audit].reverse(:id).get(:words) }

    before { root.files = Dir.mktmpdir }

    def put(name, bytes, place = {record_id: deal}) = super

    def erased
      away(gone)
      erase(gone)
      work_off
      expect(db[:trash].count).to eq(0)
    end

    def name(id) = root.attachments.find!(id)[:name]

    it "takes them out of texts, tables, calendars and cards" do
      task = root.tasks.make({"title" => "Ring", "record_id" => deal}, cause: cause("maren"))[:id]
      folded = "BEGIN:VCALENDAR\r\nSUMMARY:Lunch with Zad\r\n ok & Söhne\r\nEND:VCALENDAR\r\n"
      other = "BEGIN:VCARD\r\nN:Lind;Bo\r\nEND:VCARD\r\n"
      card = "BEGIN:VCARD\r\nFN:Zadok & Söhne\r\nN:Söhne;Zadok;;;\r\nEND:VCARD\r\n#{other}"
      ids = [
        put("note.txt", "Said zadok\n&  SÖHNE; not Zadok & Söhnes."),
        put("list.csv", "Name,Boat\nZadok & Söhne,Tern\n"),
        put("day.ics", folded), put("them.vcf", card, {task_id: task}), put("other.txt", "Bo Lind\n")
      ]
      kept = db[:attachments].where(id: ids.last).get(:file)
      erased
      expect(ids.map { |id| bytes(id).force_encoding("UTF-8") }).to eq([
        "Said (erased); not Zadok & Söhnes.", "Name,Boat\n(erased),Tern\n",
        "BEGIN:VCALENDAR\r\nSUMMARY:Lunch with (erased)\r\nEND:VCALENDAR\r\n",
        "BEGIN:VCARD\r\nFN:(erased)\r\nN:(erased)\r\nEND:VCARD\r\n#{other}", "Bo Lind\n"
      ])
      expect(db[:attachments].where(id: ids.last).get(:file)).to eq(kept)
      expect(audit).to end_with("rewritten without its words: 4")
    end

    it "is through with a card that begins a hundred thousand times and never ends" do
      id = put("cards.vcf", "#{"BEGIN:VCARD\nN:Lind\n" * 100_000}N:Söhne\nFN:Zadok & Söhne\n")
      erased
      gone = "BEGIN:VCARD\nN:(erased)\nN:(erased)\nFN:(erased)\n"
      expect(bytes(id)).to start_with("BEGIN:VCARD\nN:Lind\n").and end_with(gone)
    end

    it "leaves a document whose paragraphs lie in one another beyond measure, and says so" do
      nested = "#{"<p>" * 200}#{"<t>a</t>" * 20_000}Zadok &amp; Söhne#{"</p>" * 200}"
      put("deep.docx", pack({"word/document.xml" => nested}))
      erased
      expect(audit).to end_with("broken: 1 (record #{deal})")
    end

    it "takes them out of documents and tables of an office, also in several pieces, which can be opened as before" do
      word = a_docx(word_paragraph("For Zad", "ok &amp; Söh", "ne."), word_row("zadok@sea.example", "Tern"),
        "word/vbaProject.bin" => "x", "docProps/core.xml" => "<c><title>Zadok &amp; Söhne</title></c>",
        "word/_rels/document.xml.rels" => %(<R><Relationship Target="mailto:zadok@sea.example"/></R>))
      open = an_odt(%(<text:p>To <text:span>Zadok</text:span><text:s/>&amp; Söhne</text:p>))
      sheet = pack({"xl/sharedStrings.xml" => "<sst><si><r><t>Zadok </t></r><r><t>&amp; Söhne</t></r></si></sst>"})
      files = {"a.docx" => word, "b.odt" => open, "c.xlsx" => sheet, "d.docx" => a_docx(word_paragraph("Tern"))}
      ids = files.map { |name, bytes| put(name, bytes) }
      erased
      parts = ids.map { |id| unpack(bytes(id)) }
      expect(parts[0]["word/document.xml"]).to include("For (erased)</w:t>", "Tern", "<w:t>(erased)</w:t>")
      expect(parts[0]["docProps/core.xml"]).to include("<title>(erased)</title>")
      expect(parts[1]["content.xml"]).to include("To <text:span>(erased)</text:span>")
      expect(parts.map { |all| all.values.join.force_encoding("UTF-8") }.join).not_to match(/Zad|Söh|zadok/)
      expect(parts[0].keys).to include("word/vbaProject.bin")
    end

    it "keeps of a printed paper its other words, as a text" do
      rows = "| Boat | For |\n|---|---|\n| Tern | Zadok & Söhne and their long list of friends ashore |\n"
      printed = print_one("# Quote\n\nDear **Zadok** & Söhne,\n\nall in all 1,200.00 EUR.\n\n#{rows}")
      expect(words_of_pdf(printed)).to include("Zadok&Söhne,")
      hit, other = put("Quote.pdf", printed), put("Plan.pdf", print_one("For Bo Lind"))
      erased
      expect([name(hit), name(other)]).to eq(["Quote.txt", "Plan.pdf"])
      expect(bytes(hit).force_encoding("UTF-8")).to include("Dear (erased),", "1,200.00 EUR", "Tern")
      expect(bytes(hit)).not_to match(/zadok/i)
      expect(root.attachments.find!(hit)).to include(type: "text/plain", size: bytes(hit).bytesize)
    end

    it "takes them out of a paper that is not printed yet, also while it is" do
      filled = {"paper" => "quote", "number" => 1, "title" => "Q", "filled" => ["For Zadok & Söhne"]}
      id = db[:attachments].insert(record_id: deal, name: "Q.pdf", type: "application/pdf", by: nil, at: Database::NOW)
      db[:fillings].insert(attachment_id: id, body: JSON.generate(filled))
      before = db[:fillings].get(:body)
      erased
      expect(db[:fillings].get(:body)).to include("For (erased)")
      expect(root.attachments.printed(id, "%PDF-", before)).to be(false)
      expect(root.attachments.find!(id)[:file]).to be_nil
    end

    it "reads what a PDF says in a process that has so much memory and no more" do
      put("Quote.pdf", print_one("For Zadok & Söhne"))
      stub_const("Yenvo::Store::PdfWords::MEMORY", 20_000_000)
      erased
      expect(audit).to end_with("broken: 1 (record #{deal})")
    end

    it "names what it cannot look into, and goes on" do
      bomb = pack({"word/document.xml" => "<a>#{" " * 31_000_000}</a>"})
      put("scan.png", "\x89PNG\r\n\x1A\n".b)
      put("broken.pdf", "%PDF-1.7 nothing")
      put("bomb.docx", bomb)
      lost = put("lost.txt", "Zadok & Söhne")
      File.delete(root.attachments.open(lost)[1])
      put("odd.txt", "odd")
      allow(Yenvo::Core::ErasedText).to receive(:without).and_call_original
      allow(Yenvo::Core::ErasedText).to receive(:without).with("odd", any_args).and_raise(ArgumentError)
      last = put("last.txt", "Zadok & Söhne")
      erased
      expect(bytes(last)).to eq("(erased)")
      expect(audit).to include("without its words: 1;").and end_with("locked or broken: 5 (record #{deal})")
    end

    it "goes on at another turn where it was, and nothing of the record goes before all are looked through" do
      ids = Array.new(3) { |n| put("#{n}.txt", "Zadok & Söhne") }
      stub_const("Yenvo::Store::FilesElsewhere::AT_ONCE", -1)
      away(gone)
      erase(gone)
      expect(root.erasing.some(now: Database::NOW)).to eq(1)
      expect([db[:trash].count, JSON.parse(db[:trash].get(:files))["till"]]).to eq([1, 0])
      stub_const("Yenvo::Store::FilesElsewhere::AT_ONCE", 5)
      work_off
      expect([db[:trash].count, ids.map { |id| bytes(id) }.uniq]).to eq([0, ["(erased)"]])
    end
  end

  it "leaves what others say as it is where a title is a common word, or they were never linked" do
    gone = make("deal", {"title" => "Survey"})["id"]
    near = make("ticket", {"title" => "Survey found a leak", "boat" => gone})["id"]
    named = make("deal", {"title" => "Two words"})["id"]
    far = make("ticket", {"title" => "Two words more"})["id"]
    [gone, named].each { |id| away(id) && erase(id) }
    work_off
    expect([near, far].map { |id| root.records.find!(id)["title"] }).to eq(["Survey found a leak", "Two words more"])
  end

  it "keeps figures, and what may run once", :engine do
    publish(
      "name" => "Once", "how_often" => "once_per_record", "trigger" => {"when" => "record_made"},
      "branches" => [{"do" => [{"action" => "task", "title" => "See {{ record.title }}",
                                "assign" => {"to" => "queue", "queue" => "callbacks"}}]}]
    )
    id = make("deal", {"title" => "Gone boat"})["id"]
    work
    root.tasks.finish(db[:tasks].get(:id), cause: cause("maren"))
    rule = db[:rules].get(:id)
    runs = %i[rule_id record_id once_key state task_count]
    kept = -> { [root.figures.of_rules(now: Database::NOW), db[:runs].select_map(runs)] }
    before = kept.call
    away(id)
    erase(id)
    work_off
    expect(kept.call).to eq(before)
    expect(root.runs.once_keys(id)).to eq(Set[[rule, "record:#{id}"]])
    expect(db[:tasks].select_map(%i[title state done_by])).to eq([["(erased)", "done", "maren"]])
  end

  it "comes after thirty days by itself, and once begun nothing brings it back" do
    id = make("deal", {"title" => "Old boat"})["id"]
    entry = root.list_entries.put_on(id, "entry/launch_roster", cause: cause("maren"))["id"]
    expect(root.erasing.some(now: Database::NOW + (40 * 86_400))).to eq(0)
    away(id)
    expect(root.erasing.some(now: Database::NOW + (29 * 86_400))).to eq(0)
    work_off(Database::NOW + (31 * 86_400))
    expect([db[:trash].count, db[:journal].where(what: "record_erased").select_map(:who)]).to eq([0, [nil]])
    expect(found("Old boat")).to eq({})
    expect(db[:journal].where(record_id: entry).select_map(:before).compact).not_to include(/Old/)
    other = make("deal", {"title" => "New boat"})["id"]
    away(other)
    erase(other)
    gone = Yenvo::Store::NotFound
    expect { root.trash.put_back(other, cause: cause("maren")) }.to raise_error(gone, /nothing to bring back/)
    expect { erase(other) }.to raise_error(gone)
    expect([root.trash.find(other), root.trash.titles([other], Yenvo::Store::Sight.new(root, nil))]).to eq([nil, {}])
  end

  it "knows what stood on a list that is gone, and waits for a table that is under way" do
    deal = make("deal", {"title" => "Old boat"})["id"]
    entry = root.list_entries.put_on(deal, "entry/launch_roster", cause: cause("maren"))["id"]
    change(entry, {"title" => "Zadok roster"})
    away(entry)
    db[:trash].where(record_id: entry).update(kind: "entry/gone")
    db[:journal].where(record_id: entry).update(kind: "entry/gone")
    row = a_table("Name,E-mail\nZadok,zadok@sea.example\n")
    bring_in(row)
    made = contacts.get(:id)
    [entry, made].each { |id| (id == made) && away(id) }
    [entry, made].each { |id| erase(id) }
    root.imports.begin(row[:id], "undoing", cause: cause("hollie"))
    work_off
    expect([db[:trash].select_map(:record_id), found("Zadok").keys]).to match([[made], include("trash.title")])
    root.imports.stop(row[:id], now: Database::NOW)
    work_off(Database::NOW + 3_600)
    expect([db[:trash].count, found("Zadok"), db[:imports].get(:file)]).to eq([0, {}, nil])
  end

  it "takes long texts in many letters, of which no pattern must grow too large" do
    id = make("ticket", {"title" => "Leak"})["id"]
    60.times { |n| change(id, {"found" => "#{n} #{"漏水(船).*" * 240}"}) }
    near = make("contact", {"title" => "Bo"})["id"]
    root.links.add(id, near, cause: cause("maren"))
    root.interactions.log(near, "note", "7 #{"漏水(船).*" * 240}", cause: cause("maren"))
    away(id)
    erase(id)
    work_off
    expect([db[:trash].count, db[:interactions].get(:text)]).to eq([0, "(erased)"])
  end

  it "sets aside what it cannot erase, and goes on with the others" do
    ids = %w[One Two].map { |title| make("deal", {"title" => title})["id"] }
    ids.each { |id| away(id) && erase(id) }
    broken = ids.min
    db[:trash].where(record_id: broken).update(erase_at: Database::NOW - 1, hanging: "{")
    work_off
    expect(db[:trash].select_map(:record_id)).to eq([broken])
    expect(db[:trash].get(:erase_at)).to be > Database::NOW
  end

  it "has what waited to leave stay, and forgets what waited to be sent off" do
    id = make("deal", {"title" => "Wet boat"})["id"]
    content = {"to" => "x@sea.example", "subject" => "Hello", "text" => "Wet boat"}
    delivery = root.outbox.add("mail", "mail server", content, cause: cause("maren"), record_id: id, kind: "deal",
      words: "Mail", due: Database::NOW + 60)
    proposal = root.proposals.add("maren", {title: "Wet boat", record_id: id}, rule_id: 1, run_id: 1,
      at: Database::NOW)
    away(id)
    erase(id)
    work_off
    expect(found("Wet boat")).to eq({})
    states = [root.outbox.find!(delivery), db[:proposals].where(id: proposal).first].map { |row| row[:state] }
    expect(states).to eq(%w[stopped thrown])
    expect { root.outbox.again(delivery, cause: cause("maren")) }.to raise_error(Yenvo::Store::Refused, /not kept/)
  end
end
