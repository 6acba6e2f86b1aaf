# frozen_string_literal: true

RSpec.describe "Texts and papers as they are kept" do
  let(:texts) { Yenvo::Store::Texts.new(root) }
  let(:papers) { Yenvo::Store::Papers.new(root) }
  let(:now) { Database::NOW }

  around { |example| Dir.mktmpdir { |folder| (root.files = folder) && example.run } }

  def refused
    db.transaction(savepoint: true) { yield } && nil
  rescue Yenvo::Store::Refused => error
    error.fields
  end

  def rule_with(*actions, **more)
    publish("trigger" => {"when" => "stage_entered", "stages" => ["quoted"]}, "branches" => [{"do" => actions}], **more)
  end

  def mail(**more) =
    {
      "action" => "mail", "receivers" => [{"to" => "address", "address" => "a@b.example"}],
      **more.transform_keys(&:to_s)
    }

  def paper(**more) =
    {
      "action" => "paper", "document" => {"key" => "quote"}, "name" => "Quote {{ record.title }}",
      **more.transform_keys(&:to_s)
    }

  # @return [RSpec::Matchers] for a rule of which that is said
  def broken(words) =
    an_instance_of(Yenvo::Core::InvalidRule).and(
      satisfy { |error| error.problems.map(&:text).grep(words).any? }
    )

  # @return [Hash] image of a deal that the rule has run on
  def quoted(deal = make("deal"))
    change(deal["id"], {"stage" => "quoted"})
    work
    deal
  end

  def sent = db[:deliveries].order(:id).select_map(:content).map { |text| JSON.parse(text) }
  def runs = db[:runs].order(:id).select_map(%i[state why])

  describe "a text" do
    it "is taken in the version with which a rule was published, or always in the newest" do
      key = a_saved_text("kind" => "record")
      rule_with(mail(saved: {"key" => key}), "name" => "Kept")
      rule_with(mail(saved: {"key" => key, "newest" => true}), "name" => "Newest")
      a_saved_text(key:, kind: "record", text: "Hello {{ record.title }}", subject: "New")
      quoted
      expect(sent.map { |one| one.values_at("subject", "text") }).to eq(
        [["About Quiet Hour", "Dear Quiet Hour"], ["New", "Hello Quiet Hour"]]
      )
      expect(texts.versions_of(key).map { |row| row[:number] }).to eq([2, 1])
      expect(texts.version!(key, 1)[:body]).to eq("Dear {{ record.title }}")
    end

    it "says on a board and by notice, too" do
      board = {"name" => "Yard board", "way" => "board", "url" => "https://board.example/x"}
      root.addresses.write(nil, board, cause:)
      key = a_saved_text
      rule_with(
        {"action" => "board", "address" => "yard_board", "saved" => {"key" => key}},
        {"action" => "notice", "assign" => {"to" => "person", "person" => "callum"}, "saved" => {"key" => key}}
      )
      quoted
      expect([sent[0]["text"], db[:notices].where(person: "callum").get(:text)]).to eq(["Dear Quiet Hour"] * 2)
    end

    it "is refused where a blank means nothing, with its place" do
      expect(refused { a_saved_text(text: "{{ record.nope }}") }["text"]).to match(/\AIt must name a field of a deal/)
      expect(refused { a_saved_text(subject: "{{ record.nope }}") }.keys).to eq(["subject"])
      expect(refused { a_saved_text(text: " ") }).to eq("text" => "A text takes some words.")
      expect(refused { a_saved_text(kind: "nope") }["kind"]).to match(/there is no/)
      expect(a_saved_text(subject: "a\r\nBcc: x@y.example").then { |key| texts.version!(key)[:subject] })
        .to eq("a  Bcc: x@y.example")
      expect(refused { a_saved_text(name: "welcome") }).to eq("name" => "There is a text welcome already.")
    end

    it "is not taken for other records, nor in a version that there is not" do
      key = a_saved_text
      expect { rule_with(mail(saved: {"key" => key}), "record" => "ticket", "trigger" => {"when" => "record_made"}) }
        .to raise_error(broken(/must be one of the set-up, for a ticket; there is none yet/))
      expect { rule_with(mail(saved: {"key" => key, "version" => 9})) }.to raise_error(broken(/Welcome has no 9/))
    end

    it "stays with the kind of records for which rules take it" do
      key = a_saved_text
      a_saved_text(key:, kind: "ticket")
      a_saved_text(key:, kind: "deal")
      rule_with(mail(saved: {"key" => key}))
      expect(refused { a_saved_text(key:, kind: "ticket") }["kind"]).to match(/Write another text for these/)
    end

    it "says what leans on it before it is taken away, and comes back" do
      key = a_saved_text
      rule_with(mail(saved: {"key" => key}))
      expect(refused { texts.retire(key, cause:) }["kept"]).to match(/“A rule” leans on the text Welcome/)
      texts.retire(key, cause:, anyway: true)
      expect(root.schema.texts).to be_empty
      texts.bring_back(key, cause:)
      expect(root.schema.texts.keys).to eq([key])
      expect(Yenvo::Store::RuleUses.new(root).by_key("text")[key].map { |one| one[:name] }).to eq(["A rule"])
    end

    it "is not written over what somebody else has changed meanwhile" do
      key = a_saved_text
      seen = root.setup[3]
      a_saved_text(key:, text: "Theirs")
      given = {"name" => "Welcome", "kind" => "deal", "text" => "Mine"}
      expect { Yenvo::Store::Texts.new(root, seen:).write(key, given, cause:) }.to raise_error(Yenvo::Store::Conflict)
    end
  end

  describe "a paper" do
    it "is made by a run, printed later, and stands at the record with the version it was published with" do
      a_paper(text: <<~MARKDOWN)
        # {{ record.title }}

        | What | How bad |
        |---|---|
        {% for t in record.ticket.boat %}| {{ t.title }} | {{ t.severity }} |
        {% endfor %}
      MARKDOWN
      rule_with(paper)
      a_paper(key: "quote", text: "Another")
      deal = make("deal")
      make("ticket", "title" => "Hull", "boat" => deal["id"], "severity" => "minor")
      quoted(deal)
      file = root.attachments.of(record_id: deal["id"]).first
      expect(file).to include(name: "Quote Quiet Hour.pdf", type: "application/pdf")
      expect([root.printing.some(5, now:), db[:fillings].count]).to eq([0, 0])
      row, path = root.attachments.open(file[:id])
      expect(words_of_pdf(File.binread(path))).to include("QuietHour", "Hull", "Minor")
      expect(row[:size]).to eq(File.size(path))
      story = db[:journal].where(record_id: deal["id"], what: "file_added").get(:detail)
      expect(JSON.parse(story)).to eq("text" => "Quote Quiet Hour.pdf")
    end

    it "is printed by whoever wants it first; of two at once one stays" do
      a_paper
      rule_with(paper)
      id = root.attachments.of(record_id: quoted["id"]).first[:id]
      body = db[:fillings].where(attachment_id: id).get(:body)
      path = root.printing.open(id, now:)[1]
      root.attachments.printed(id, "%PDF-other", body)
      on_disk = Dir["#{root.files}/**/*"].count { |one| File.file?(one) }
      expect([root.printing.open(id, now:)[1], on_disk]).to eq([path, 1])
    end

    it "hangs on the task that the run has made, or on the one of the event" do
      a_paper
      task = {"action" => "task", "title" => "Call", "assign" => {"to" => "person", "person" => "maren"}}
      rule_with(task, paper(on: "1"))
      publish("record" => "task", "trigger" => {"when" => "task_made"}, "branches" => [{
        "do" => [
          {"action" => "paper", "document" => {"key" => a_paper(name: "Slip", kind: "task")}, "name" => "Slip"}
        ]
      }])
      quoted
      work
      id = db[:tasks].get(:id)
      expect(root.attachments.of(task_id: id).map { |row| row[:name] }).to eq(["Quote Quiet Hour.pdf", "Slip.pdf"])
    end

    it "fails the run that cannot fill it in, with the place of the blank" do
      a_paper(text: "First\n\n{{ record.title | date: '%d' }}")
      rule_with(paper)
      quoted
      expect(runs).to match([["failed", /The paper Quote cannot be filled in, in line 3: date needs a date/]])
      expect(db[:attachments].count).to eq(0)
    end

    it "goes with the run that is undone" do
      a_paper
      rule_with(paper)
      deal = quoted
      root.undo.run(db[:runs].all, cause:)
      expect([root.attachments.of(record_id: deal["id"]), db[:fillings].count]).to eq([[], 0])
    end

    it "keeps nobody from undoing its run when what it was attached to is gone" do
      a_paper(kind: "entry/launch_roster")
      rule = {"record" => "entry/launch_roster", "trigger" => {"when" => "record_made"}}
      publish(**rule, "branches" => [{"do" => [paper]}])
      entry = root.list_entries.put_on(make("deal")["id"], "entry/launch_roster", cause:)["id"]
      work
      root.list_entries.take_off(entry, cause:)
      items = root.undo.run(db[:runs].all, cause:)
      expect(items.map(&:why)).to include(/what it was attached to is/)
    end

    it "is filled in for a task that asks for one" do
      key = a_paper
      deal = make("deal")
      task = root.tasks.make({"title" => "Send it", "record_id" => deal["id"], "fills" => key}, cause:)
      filling = Yenvo::Store::Filling.new(root, now)
      id = filling.for_task(task, cause:)
      expect(words_of_pdf(File.binread(root.printing.open(id, now:)[1]))).to include("ForQuietHour")
      [{}, {"record_id" => make("ticket")["id"]}].each do |about|
        expect(refused { root.tasks.make({"title" => "x", "fills" => key, **about}, cause:) }["fills"])
          .to match(/filled in from other records/)
        other = root.tasks.make({"title" => "x", **about}, cause:)
        said = refused { filling.for_task(other.merge(fills: key), cause:) }["paper"]
        expect(said).to match(/this task is about none|from other records/)
      end
      papers.retire(key, cause:)
      expect(refused { filling.for_task(task, cause:) }["paper"]).to match(/was taken away/)
      expect(refused { root.tasks.make({"title" => "x", "fills" => key}, cause:) }["fills"]).to match(/no such paper/)
    end

    it "is uploaded as ODT or DOCX, and given out as such" do
      a_paper(form: "document", bytes: a_docx(word_paragraph("Dear {{ record.title }}")))
      rule_with(paper)
      id = root.attachments.of(record_id: quoted["id"]).first[:id]
      row, path = root.printing.open(id, now:)
      expect([row[:name], unpack(File.binread(path))["word/document.xml"]])
        .to match(["Quote Quiet Hour.docx", /Dear Quiet Hour/])
      # What it is called can change without another upload.
      a_paper(key: "quote", form: "document", name: "Offer")
      expect(papers.version!("quote", 2)[:body]).to eq(papers.version!("quote", 1)[:body])
      bytes = an_odt("<text:p>{{ record.title }}</text:p>")
      expect(a_paper(name: "Open", form: "document", bytes:)).to eq("open")
      expect(root.schema.papers["open"].form).to eq("odt")
    end

    it "stays in the form of the version with which its rule was published" do
      a_paper(form: "document", bytes: a_docx(word_paragraph("Dear {{ record.title }}")))
      rule_with(paper)
      a_paper(key: "quote", form: "document", bytes: an_odt("<text:p>Now {{ record.title }}</text:p>"))
      file = root.attachments.of(record_id: quoted["id"]).first
      row, path = root.printing.open(file[:id], now:)
      expect([row[:name], unpack(File.binread(path))["word/document.xml"]])
        .to match(["Quote Quiet Hour.docx", /Dear Quiet Hour/])
    end

    it "is refused with the place of each unknown blank" do
      expect(refused { a_paper(text: "a\n{{ record.nope }}\n{{ record.nada }}") }["text"])
        .to match(/\AIn line 2: record.nope must .* In line 3: record.nada must/)
      expect(refused { a_paper(form: "document", bytes: a_docx(word_paragraph("{{ record.nope }}"))) }["text"])
        .to match(/\AIn paragraph 1: record.nope/)
      expect(refused { a_paper(form: "document", bytes: "%PDF-1.4") }["text"]).to match(/an ODT or a DOCX/)
      expect(refused { a_paper(form: "document") }["text"]).to match(/Choose a document/)
      expect(refused { a_paper(page: "a3") }["page"]).to match(/one of a4, a5, letter/)
    end

    it "goes on the letterhead of the house" do
      logo = File.binread("spec/support/logo.png")
      papers.write_letterhead([" Quay 4 ", ""], logo, cause:)
      papers.write_letterhead(["Quay 4", "Faro"], nil, cause:)
      expect(papers.letterhead).to have_attributes(lines: ["Quay 4", "Faro"], logo:)
      papers.write_letterhead(["Quay 4"], "", cause:)
      expect(papers.letterhead.logo).to be_nil
      expect(refused { papers.write_letterhead([], "GIF89a", cause:) }["logo"]).to match(/PNG or JPEG/)
      expect(refused { papers.write_letterhead(["x"] * 9, nil, cause:) }["lines"]).to match(/at most 8/)
    end

    it "that cannot be printed keeps nobody from the others" do
      a_paper
      rule_with(paper)
      first, second = Array.new(2) { root.attachments.of(record_id: quoted["id"]).first }
      db[:attachments].where(id: [first[:id], second[:id]]).update(file: nil)
      good = {"paper" => "quote", "number" => 1, "title" => "Quote", "filled" => "# Again"}
      db[:fillings].insert(attachment_id: first[:id], body: "{}")
      db[:fillings].insert(attachment_id: second[:id], body: JSON.generate(good))
      6.times { root.printing.some(1, now:) }
      expect([db[:fillings].select_map(:tries), root.attachments.find!(second[:id])[:file]]).to match([[5], String])
    end
  end

  describe "a mail" do
    it "that waits for whoever caused it keeps what goes along, and stands in the thread of its task" do
      a_paper
      rule = {
        "trigger" => {"when" => "task_done"}, "branches" => [{
          "do" => [
            paper, mail(subject: "Quote", text: "Here", attach: ["papers"], ask: true)
          ]
        }]
      }
      publish(rule)
      task = root.tasks.make({"title" => "Look", "record_id" => make("deal")["id"]}, cause:)
      root.tasks.finish(task[:id], cause:)
      work
      waits = db[:proposals].get(:id)
      root.proposals.send_message(waits, {"subject" => "Ours"}, cause:)
      expect(sent[0]).to include("subject" => "Ours", "thread" => "task-#{task[:id]}")
      expect(sent[0]["files"].map { |file| file["name"] }).to eq(["Quote Quiet Hour.pdf"])
    end

    it "carries the papers of its run, and the files of the task" do
      a_paper
      rule_with(paper, mail(subject: "Quote", text: "Here", attach: ["papers"]))
      quoted
      expect(sent[0]["files"].map { |file| file["name"] }).to eq(["Quote Quiet Hour.pdf"])
      expect { rule_with(mail(subject: "a", text: "b", attach: ["papers"])) }
        .to raise_error(broken(/behind an action that makes a paper/))
      expect { rule_with(mail(subject: "a", text: "b", attach: ["files"])) }
        .to raise_error(broken(/the trigger watches no tasks/))
      with_files = mail(subject: "a", text: "b", attach: ["files"])
      publish("trigger" => {"when" => "task_done"}, "branches" => [{"do" => [with_files]}])
      task = root.tasks.make({"title" => "Look", "record_id" => make("deal")["id"]}, cause:)
      root.attachments.add({task_id: task[:id]}, "hull.txt", "Sound", cause:)
      root.tasks.finish(task[:id], cause:)
      work
      expect(sent[1]["files"].map { |file| file["name"] }).to eq(["hull.txt"])
    end
  end

  it "say that they lean on a field before that is taken away, also on one within a loop" do
    a_saved_text(text: "{{ record.boat_owner.phone }} {{ before.value }}")
    a_paper(text: "{% for t in record.ticket.boat %}{{ t.severity }}{% endfor %}")
    a_paper(name: "Slip", form: "document", bytes: a_docx(word_paragraph("{{ record.boat_length }}")))
    leaning = ->(what) { Yenvo::Store::RuleUses.new(root).of("field #{what}").map { |one| one[:name] }.last }
    fields = ["contact phone", "deal value", "ticket severity", "ticket boat", "deal boat_length", "ticket due"]
    expect(fields.map(&leaning))
      .to eq(["Welcome (text)", "Welcome (text)", "Quote (paper)", "Quote (paper)", "Slip (paper)", nil])
  end

  describe "files of a record" do
    it "have the limits of those of a task, and go with the record for good" do
      entry = root.list_entries.put_on(make("deal")["id"], "entry/launch_roster", cause:)["id"]
      add = ->(name, content = "x") { root.attachments.add({record_id: entry}, name, content, cause:) }
      expect(refused { add.call("x.exe") }["file"]).to match(/A file of this kind/)
      20.times { |i| add.call("#{i}.txt") }
      expect(refused { add.call("21.txt") }["file"]).to eq("A record takes at most 20 files. Take one away first.")
      root.list_entries.take_off(entry, cause:)
      expect(root.attachments.of(record_id: entry).size).to eq(20)
      root.erasing.some(now: now + (31 * 86_400))
      expect(db[:attachments].count).to eq(0)
    end
  end
end
