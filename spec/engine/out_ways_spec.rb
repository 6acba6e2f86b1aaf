# frozen_string_literal: true

RSpec.describe "What rules send", :committed, :processes do
  include OutsideWorld

  let(:clock) { Struct.new(:now).new(Database::NOW) }
  let(:mail_port) { free_port }
  let(:mailbox) { Yenvo::Standins::Mailbox.new(port: mail_port) }
  let(:board) { Yenvo::Standins::WebReceiver.new(clock:) }
  let(:office) do
    answers = ->(_event, before) { {"order" => {"number" => 4700 + before}} }
    Yenvo::Standins::WebReceiver.new(clock:, secrets: [OutsideWorld::SECRET], answers:)
  end
  let(:sender) { a_sender(mail_port:) }

  before do
    mailbox.start
    root.setup_store.set("mail_from", "house@fennick.example")
    an_address("Yard board", "board", "#{serve(board)}/board/yard")
    an_address("Office", "call", "#{serve(office)}/office", fields: {"deal" => %w[title value]})
    root.db[:rests].delete
  end

  after do
    mailbox.stop
    close_all
    db[:settings].where(name: %w[mail_from mail_per_minute]).delete
    db[:rests].delete
    Database.clear
  end

  def mail(**more) =
    {
      "action" => "mail", "receivers" => [{"to" => "email", "field" => "boat_owner.email"}],
      "subject" => "Your {{ record.title }}", "text" => "Dear {{ record.boat_owner }}, it is {{ record.stage }}.",
      **more.transform_keys(&:to_s)
    }

  def on_the_board = {"action" => "board", "address" => "yard_board", "text" => "{{ record.title }} is quoted"}
  def to_the_office(**more) = {"action" => "call", "address" => "office", **more.transform_keys(&:to_s)}

  def rule_that(*actions, **more) =
    publish(
      "name" => "Tell all", "record" => "deal", "trigger" => {"when" => "stage_entered", "stages" => ["quoted"]},
      "how_often" => "every_time", "branching" => "first", "branches" => [{"do" => actions}], **more
    )

  # @return [Integer] a deal for whose stage the rule has run
  def quoted(at: Database::NOW)
    owner = make("contact", {"title" => "Aldo Ferrant", "email" => "aldo@sea.example"}, at:)["id"]
    deal = make("deal", {"title" => "Quiet Hour", "value" => 120, "boat_owner" => owner}, at:)["id"]
    change(deal, {"stage" => "quoted"}, at:)
    work(at: at + 1)
    clock.now = at + 1
    deal
  end

  def leave
    clock.now += 121
    sender.send_some
  end

  def states = db[:deliveries].order(:id).select_map(:state)
  def image(id) = root.records.find!(id)

  it "asks for answers at an address of each mail about a record, where the house takes them" do
    root.mail_doors.take_answers(true, cause: cause("maren"))
    rule_that(mail, mail(reply_to: [{"to" => "address", "address" => "other@yard.example"}], subject: "Other"))
    deal = quoted
    root.outbox.add("mail", "mail server", {"to" => "maren@fennick.example", "subject" => "House", "text" => "Hello"},
      cause: cause("maren", at: clock.now))
    leave
    found = mailbox.mails.to_h { |one| [one.subject, one.reply_to&.first] }
    expect(found).to match("Your Quiet Hour" => /\Ahouse\+m\w+-\h{20}@fennick\.example\z/, "House" => nil,
      "Other" => "other@yard.example")
    answer = Mail.new(from: "aldo@sea.example", to: found["Your Quiet Hour"], subject: "Yes", body: "Yes.").to_s
    row = Yenvo::Postbox.new(root, clock:).take(answer, to: found["Your Quiet Hour"])
    expect(row).to include(state: "answer", record_id: deal)
  ensure
    db[:settings].where(name: "mail_answers").delete
    root.forget
  end

  it "reaches a mailbox, a board and a program, whose answer lands in a field as an event of the record" do
    rule_that(mail, on_the_board, to_the_office(read: [{"path" => "order.number", "field" => "deposit"}]))
    deal = quoted
    expect([states, sender.send_some]).to eq([%w[waiting waiting waiting], 0])
    leave
    expect(states).to eq(%w[sent sent sent])
    letter = mailbox.mails.first
    expect([letter.to, letter.subject, letter.text_part.decoded]).to eq(
      [["aldo@sea.example"], "Your Quiet Hour", "Dear Aldo Ferrant, it is Quoted."]
    )
    expect(JSON.parse(board.calls[0][:body])).to eq("text" => "Quiet Hour is quoted")
    call = office.calls[0]
    event = JSON.parse(call[:body])
    expect([call[:signed], call[:type]]).to eq(["rightly", "application/cloudevents+json; charset=utf-8"])
    expect(event).to include(
      "specversion" => "1.0", "id" => call[:id], "source" => "https://yard.example", "subject" => "deal/#{deal}",
      "type" => "yenvo.deal.record_changed"
    )
    expect(event["data"]["record"]["fields"]).to eq("title" => "Quiet Hour", "value" => 120)
    expect(image(deal)["deposit"]).to eq(4700)
    told = db[:journal].where(record_id: deal, what: "record_changed").order(:id).last
    expect(told.slice(:who, :depth)).to eq(who: nil, depth: 1)
    expect(told[:cause_rule]).to eq(db[:rules].get(:id))
  end

  it "sends nothing of a run that is undone in time, and says what has left" do
    rule_that(mail, on_the_board)
    quoted
    run = db[:runs].first
    items = root.undo.run([run], cause: cause("maren", at: clock.now))
    expect([items.map(&:why), states]).to eq([[nil, nil], %w[stopped stopped]])
    leave
    expect([mailbox.mails, board.calls]).to eq([[], []])

    quoted(at: Database::NOW + 3_600)
    leave
    items = root.undo.run([db[:runs].order(:id).last], cause: cause("maren", at: clock.now))
    expect(items.map(&:why)).to eq(["it has left already", "it has left already"])
  end

  it "stands in the history and in the run, with how it fares" do
    rule_that(mail)
    deal = quoted
    messages = -> { root.history.of_record(deal).flat_map { |entry| entry["messages"] } }
    words = -> { messages.call[0]["words"].map { |one| one.values[0] } }
    expect(words.call).to eq(["Yenvo wrote: ", "Mail to aldo@sea.example: Your Quiet Hour", " · waits to leave"])
    leave
    expect(words.call.last).to eq(" · sent")
    expect(messages.call.map { |one| one.values_at("what", "run") }).to eq([["message_written", db[:runs].get(:id)]])
    db[:deliveries].update(by: "maren")
    expect(messages.call).to eq([])
  end

  it "tells the owner of the rule what could not be delivered, once" do
    mailbox.manner = "refuse"
    rule_that(mail)
    2.times { |n| quoted(at: Database::NOW + (n * 3_600)) && leave }
    notices = db[:notices].where(what: "failed").all
    expect(notices.map { |one| one[:person] }).to eq([db[:rules].get(:owner)])
    expect(notices[0][:text]).to match(/\A“Your Quiet Hour” to aldo@sea.example could not be delivered: .*550/)
  end

  it "signs with two secrets while one takes the place of the other" do
    rule_that(to_the_office)
    fresh = root.addresses.change_secret("office", cause: cause("maren"))
    quoted
    leave
    expect(office.calls[0][:signed]).to eq("rightly")
    office.secrets = [fresh]
    quoted(at: Database::NOW + 3_600)
    leave
    expect(office.calls[0][:signed]).to eq("rightly")
    root.addresses.drop_second("office", cause: cause("maren"))
    office.secrets = [OutsideWorld::SECRET]
    quoted(at: Database::NOW + 7_200)
    leave
    expect([office.calls[0][:signed], states.last]).to eq(%w[wrongly failed])
  end

  it "says of an answer what could not be read back, and is sent all the same" do
    read = [
      {"path" => "order.date", "field" => "survey_date"}, {"path" => "order.number", "field" => "survey_date"},
      {"path" => "order.number", "field" => "value"}
    ]
    rule_that(to_the_office(read:))
    deal = quoted
    leave
    expect([states, image(deal)["value"], image(deal)["survey_date"]]).to eq([["sent"], 4700, nil])
    expect(db[:deliveries].get(:answer)).to match(
      /The answer holds no order.date for Survey date; order.number of the answer was not taken: .*; Value is now 4700/
    )
    rule_that(to_the_office(read: [{"path" => "order.number", "field" => "value"}]), "name" => "Again")
    other = quoted(at: Database::NOW + 3_600)
    root.trash.take_away(db[:records].where(id: other).first, "record_removed", "Gone.", cause: cause("maren"))
    leave
    expect(db[:deliveries].order(:id).select_map(:answer).last).to match(/The record is gone, so nothing was read/)
  end

  it "leaves nothing half written where its answer cannot be kept, and is not sent again for that" do
    rule_that(to_the_office(read: [{"path" => "order.number", "field" => "deposit"}]))
    deal = quoted
    before = [image(deal), db[:journal].count]
    records = root.records
    allow(records).to receive(:change) do |id, _, cause:|
      root.journal.add("record_changed", cause, record_id: id, kind: "deal")
      raise NoMethodError, "undefined method"
    end
    leave
    allow(records).to receive(:change).and_call_original
    expect([states, image(deal), db[:journal].count]).to eq([["sent"], *before])
    expect(db[:deliveries].get(:answer)).to match(/Nothing was read into the record, since something went wrong/)
    clock.now += 600
    expect([sender.send_some, office.calls.size]).to eq([0, 1])
  end

  it "fails what waits for an address that was taken away" do
    rule_that(on_the_board)
    quoted
    root.addresses.retire("yard_board", anyway: true, cause: cause("maren"))
    leave
    expect([states, db[:deliveries].get(:answer)]).to eq([["failed"], "The address is not in the set-up any more."])
  end

  it "goes to a destination no more often than it takes" do
    db[:addresses].where(key: "yard_board").update(per_minute: 3)
    5.times { |n|
      root.outbox.add("board", "address/yard_board", {"to" => "Y", "subject" => n.to_s, "text" => n.to_s}, cause:)
    }
    clock.now = Time.at(Database::NOW.to_i - (Database::NOW.to_i % 60) + 5).utc
    db[:deliveries].update(due_at: clock.now)
    expect([sender.send_some, sender.send_some, board.calls.size]).to eq([3, 0, 3])
    clock.now += 60
    expect([sender.send_some, board.calls.size]).to eq([2, 5])
  end

  it "asks whoever caused it first, where the rule says so" do
    rule_that(mail(ask: true, text: "Dear {{ record.boat_owner }}, it costs ___."))
    deal = quoted
    waiting, = root.proposals.of("hollie")
    expect([states, waiting[:record_id], JSON.parse(waiting[:message])["content"]["subject"]])
      .to eq([[], deal, "Your Quiet Hour"])
    send_it = ->(**words) {
      root.proposals.send_message(waiting[:id], words.transform_keys(&:to_s), cause: cause(at: clock.now))
    }
    expect { send_it.call }.to raise_error(Yenvo::Store::Refused, /has a blank still/)
    send_it.call(text: "Dear Aldo, it costs 90.", to: "thief@sea.example")
    expect { send_it.call(text: "Twice") }.to raise_error(Yenvo::Store::Refused, /sent already/)
    leave
    expect(mailbox.mails.map { |one|
      [one.to, one.text_part.decoded]
    }).to eq([[["aldo@sea.example"], "Dear Aldo, it costs 90."]])
    expect(db[:deliveries].first.slice(:by, :rule_id, :record_id).values).to eq(["hollie", db[:rules].get(:id), deal])

    quoted(at: Database::NOW + 3_600)
    items = root.undo.run([db[:runs].order(:id).last], cause: cause("maren", at: clock.now))
    expect(items.map(&:words)).to eq(["Mail to aldo@sea.example: Your Quiet Hour, not sent yet"])
    expect(root.proposals.of("hollie")).to eq([])
  end

  it "reaches others while one destination hangs" do
    hanging = Yenvo::Standins::WebReceiver.new(clock:)
    hanging.manner = "slow"
    hanging.slow = 6
    an_address("Hanging", "board", "#{serve(hanging)}/board/x")
    40.times { root.outbox.add("board", "address/hanging", {"to" => "H", "subject" => "h", "text" => "h"}, cause:) }
    20.times { |n|
      root.outbox.add("board", "address/yard_board", {"to" => "Y", "subject" => n.to_s, "text" => n.to_s}, cause:)
    }
    thread = Thread.new { sender.run }
    wait_until("the others have come", seconds: 5) { board.calls.size == 20 }
    expect(db[:deliveries].where(destination: "address/hanging", state: "sent").count).to eq(0)
  ensure
    sender.stop
    close_all
    thread.kill
    thread.join
  end
end
