# frozen_string_literal: true

RSpec.describe Yenvo::Store::Letters do
  include LetterWords

  let(:ticket) { make("ticket", {"title" => "Pump"})["id"] }
  let(:sent) { a_sent_mail(ticket) }

  def notes(record) = root.interactions.of_record(record)

  def answer_to(delivery, text = "Yes, please.", **heads) = a_letter(text, in_reply_to: "<#{delivery[:message_id]}>",
    **heads)

  it "puts an answer on the record that was written about, whether the mail or the address tells" do
    row = take(answer_to(sent))
    expect(row).to include(state: "answer", record_id: ticket, delivery_id: sent[:id])
    token = Yenvo::Store::ReplyAddress.new(root.secret).of("yard@yard.example", sent[:id])
    expect(take(a_letter("And soon.", to: token))).to include(state: "answer", record_id: ticket)
    expect(take(a_letter("And now."), to: token.upcase)).to include(state: "answer", record_id: ticket)
    expect(notes(ticket).map { |note| note.values_at(:way, :text, :who) }).to eq(
      [["email", "And now.", nil], ["email", "And soon.", nil], ["email", "Yes, please.", nil]]
    )
    expect(JSON.parse(notes(ticket).last[:letter])).to include("sender" => "aldo@sea.example", "answers" => sent[:id])
    expect(root.records.find!(ticket)["last_contact"]).to start_with("2026-11-24T12:00:00")
  end

  it "believes no address that somebody made up" do
    good = Yenvo::Store::ReplyAddress.new(root.secret).of("yard@yard.example", sent[:id])
    [good.sub(/-[0-9a-f]/, "-g"), good.sub(/\+m\w+-/, "+mzz-"), good.tr("0-9", "0")].each do |address|
      expect(take(a_letter("No."), to: address)).to include(state: "unknown")
    end
    expect(take(a_letter("No.", in_reply_to: "<record-#{ticket}@yenvo>"))).to include(state: "unknown")
    expect(notes(ticket)).to eq([])
  end

  it "takes each mail once, whatever is brought again" do
    bytes = answer_to(sent)
    expect([take(bytes), take(bytes)].map { |row| row[:id] }.uniq.size).to eq(1)
    without = "From: a@x.example\r\nIn-Reply-To: <#{sent[:message_id]}>\r\n\r\nHello."
    2.times { take(without) }
    expect(notes(ticket).map { |note| note[:text] }).to eq(["Hello.", "Yes, please."])
  end

  it "takes a mail for the second of its addresses where nobody takes it for the first" do
    a_mail_door
    bytes = a_letter
    expect(take(bytes, to: "nobody@yard.example")[:state]).to eq("unknown")
    expect(take(bytes, to: "snags@yard.example")).to include(state: "made", reason: nil)
    expect(take(bytes, to: "nobody@yard.example")[:state]).to eq("made")
    expect(db[:records].where(kind: "ticket").count).to eq(1)
  end

  it "keeps files that came along, and says which it did not take" do
    mail = Mail.read_from_string(answer_to(sent, "See here."))
    mail.add_file(filename: "plan.txt", content: "a plan")
    mail.add_file(filename: "run.exe", content: "MZ")
    take(mail.to_s)
    expect(root.attachments.of(record_id: ticket).map { |file| file[:name] }).to eq(["plan.txt"])
    expect(JSON.parse(notes(ticket)[0][:letter])).to include("files" => ["plan.txt"], "left_out" => ["run.exe"])
  end

  it "makes what the address is for, with the sender's contact, found or made" do
    a_mail_door(contact: "reporter", make_contact: true, text: "found", fixed: {"severity" => "serious"})
    first = take(a_letter("It leaks."))
    expect(first).to include(state: "made", door: "snags")
    made = root.records.find!(first[:record_id])
    expect(made).to include("title" => "The pump leaks", "severity" => "serious", "found" => "It leaks.")
    expect(root.records.find!(made["reporter"])).to include("title" => "Aldo Renn", "email" => "aldo@sea.example")
    second = take(a_letter("Another.", subject: "Re: Mast", from: "ALDO@sea.example"))
    expect(root.records.find!(second[:record_id])).to include("title" => "Mast", "reporter" => made["reporter"])
    detail = JSON.parse(db[:journal].where(what: "record_made", record_id: first[:record_id]).get(:detail))
    expect(detail).to eq("door" => "mail", "through" => "snags")
    expect(notes(first[:record_id]).map { |note| note[:text] }).to eq(["It leaks."])
  end

  it "makes contacts, or writes on the one that is there" do
    a_mail_door("contact")
    first, second = take(a_letter("Hello.")), take(a_letter("Hello again."))
    expect(first[:record_id]).to eq(second[:record_id])
    expect(notes(first[:record_id]).map { |note| note[:text] }).to eq(["Hello again.", "Hello."])
  end

  it "puts what follows on what the first mail made, for its sender alone" do
    a_mail_door
    first = take(a_letter("It leaks.", message_id: "<first@sea.example>"))
    more = {references: "<first@sea.example>"}
    expect(take(a_letter("More of it.", **more))).to include(state: "answer", record_id: first[:record_id])
    other = take(a_letter("Who is it?", from: "eve@sea.example", **more))
    expect(other).to include(state: "made").and(satisfy { |row| row[:record_id] != first[:record_id] })
  end

  it "makes nothing of automatic answers, circles and its own mails" do
    a_mail_door
    expect(take(answer_to(sent, auto_submitted: "auto-replied"))).to include(state: "automatic", record_id: ticket)
    expect(take(a_letter("Away.", precedence: "auto_reply"))).to include(state: "automatic", record_id: nil)
    expect(take(a_letter("Ours.", message_id: "<#{sent[:message_id]}>"))).to include(state: "loop")
    expect(notes(ticket)).to eq([])
    expect(db[:records].where(kind: "ticket").count).to eq(1)
  end

  it "marks a mail that came back, and warns about its address until that writes" do
    take(a_notice(message_id: sent[:message_id], address: "aldo@sea.example"))
    expect(root.outbox.find!(sent[:id])).to include(state: "sent", back_at: Database::NOW)
    expect(root.outbox.tries(sent[:id]).last[:answer]).to include("550 There is no such mailbox")
    expect(root.returned.of(["Aldo@sea.example"]).keys).to eq(["aldo@sea.example"])
    told = root.history.of_record(ticket).find { |entry| entry["what"] == "message_written" }
    expect(told["words"].last).to eq("muted" => " · came back")
    take(a_letter("I am here.", to: "nobody@yard.example"))
    expect(root.returned.of(["aldo@sea.example"])).to eq({})
  end

  it "warns about no address that the mail did not go to, nor of one that is only full for now" do
    take(a_notice(message_id: sent[:message_id], address: "other@sea.example"))
    take(a_notice(message_id: sent[:message_id], address: "aldo@sea.example", status: "4.2.2"))
    take(a_notice(message_id: "strange@yenvo", address: "aldo@sea.example"))
    expect(root.returned.all).to eq([])
  end

  it "lets wait what cannot be taken now, and takes it when it is brought again" do
    row = a_mail_door
    bytes = a_letter
    root.setup_store
    db[:mail_doors].where(key: row[:key]).update(plain: JSON.generate("text" => "gone"))
    expect(waiting = take(bytes)).to include(state: "waiting", reason: /has to be mended/)
    expect(described_class.code(waiting)).to eq(75)
    db[:mail_doors].where(key: row[:key]).update(plain: JSON.generate({}))
    expect(taken = take(bytes)).to include(id: waiting[:id], state: "made", reason: nil)
    expect(described_class.code(taken)).to eq(0)
    expect(described_class.code(take(a_letter, to: "nobody@yard.example"))).to eq(67)
  end

  it "lets an answer wait while its record lies in the trash" do
    bytes = answer_to(sent)
    root.lists
    root.transaction {
      root.trash.take_away(root.records.lock(ticket), "record_removed", "gone", cause: cause("maren"))
    }
    expect(take(bytes)).to include(state: "waiting", reason: /“Pump”, which was taken away/)
    root.trash.put_back(ticket, cause: cause("maren"))
    expect(take(bytes)).to include(state: "answer", record_id: ticket)
  end

  it "lets more than thirty of one sender within an hour wait" do
    a_mail_door
    states = Array.new(32) { take(a_letter)[:state] }
    expect(states.tally).to eq("made" => 30, "waiting" => 2)
    db[:counts].delete
    expect(take(a_letter)[:state]).to eq("made")
  end

  it "forgets them after a year" do
    take(a_letter)
    expect([root.letters.purge(now: Database::NOW + (364 * 86_400)),
      root.letters.purge(now: Database::NOW + (366 * 86_400))])
      .to eq([0, 1])
  end

  it "wakes a task that waits for an answer, by a rule", :engine do
    publish(
      "name" => "Answered", "record" => "ticket", "how_often" => "every_time",
      "trigger" => {"when" => "interaction_logged", "answered" => true},
      "branches" => [{
        "do" => [{
          "action" => "tasks", "state" => "started", "priority" => "high",
          "which" => {"all" => [{"field" => "stage", "test" => "is", "value" => "waiting"}]}
        }]
      }]
    )
    task = root.tasks.make({"title" => "Hear what Aldo says", "record_id" => ticket}, cause: cause)[:id]
    root.tasks.set_state(task, "waiting", cause: cause)
    root.interactions.log(ticket, "email", "By hand.", cause: cause)
    take(answer_to(sent, auto_submitted: "auto-replied"))
    work
    expect(root.task_rows.find!(task)[:state]).to eq("waiting")
    take(answer_to(sent))
    work
    expect(root.task_rows.find!(task).values_at(:state, :priority)).to eq(["started", 2])
  end
end
