# frozen_string_literal: true

RSpec.describe "Mail that comes in" do
  include LetterWords

  let(:ticket) { make("ticket", {"title" => "Pump", "owner" => "hollie"})["id"] }

  def add(address = "snags@yard.example", kind: "ticket", name: "Snags") =
    call("POST", "/api/mail-doors", {name:, kind:, address:})

  it "has addresses that are made, written, opened, taken away and brought back" do
    sign_in("maren")
    key = add["key"]
    expect(status).to eq(201)
    sheet = call("GET", "/api/mail-doors/sheet?key=#{key}")
    expect(sheet).to include("open" => false, "contact" => "reporter", "make_contact" => true, "problems" => [])
    door = {contact: "reporter", make_contact: true, text: "found", fixed: {severity: "serious"}, open: true}
    expect(call("PUT", "/api/mail-doors", {key:, seen: sheet["seen"], door:})).to include("open" => true)
    call("PUT", "/api/mail-doors", {key:, seen: "2020-01-01T00:00:00.000000Z", door: {open: false}})
    expect(status).to eq(409)
    take(a_letter)
    rows = call("GET", "/api/mail-doors/letters")["rows"]
    expect(rows).to contain_exactly(
      hash_including("sender" => "aldo@sea.example", "state" => "made",
        "record" => hash_including("title" => "The pump leaks"))
    )
    call("DELETE", "/api/mail-doors", {key:})
    expect(take(a_letter)[:state]).to eq("unknown")
    expect(call("POST", "/api/mail-doors/back", {key:})["doors"]).to contain_exactly(hash_including("open" => false))
  end

  it "refuses what cannot be an address, or is one already, or cannot make anything" do
    sign_in("maren")
    ["nobody", "a+b@yard.example", "", "x@#{"y" * 200}.example"].each do |address|
      expect(add(address)["fields"].keys).to eq(["address"]), address
    end
    key = add["key"]
    expect(add("SNAGS@yard.example", name: "Other")["fields"]).to include("address" => /has its place already/)
    expect(add("b@yard.example", kind: "nothing", name: "Other")["fields"].keys).to eq(["kind"])
    bad = {contact: "boat", text: "severity", fixed: {nothing: 1}, open: true}
    fields = call("PUT", "/api/mail-doors", {key:, door: bad})["fields"]
    expect(fields.keys).to contain_exactly("contact", "text", "fixed.nothing")
    expect(call("GET", "/api/mail-doors/sheet?key=#{key}")["open"]).to be(false)
  end

  it "is for administrators alone" do
    sign_in("hollie")
    add
    expect(status).to eq(403)
    call("GET", "/api/mail-doors/letters")
    expect(status).to eq(403)
  end

  it "asks for answers to Yenvo when told to, in mails about records alone" do
    sign_in("maren")
    expect(call("PUT", "/api/mail-doors/answers", {answers: true})["answers"]).to be(true)
    expect(root.mail_doors.answers?).to be(true)
  end

  it "shows on the record who wrote, what it quotes, and that mail to an address came back" do
    sign_in("hollie")
    sent = a_sent_mail(ticket)
    take(a_letter("Yes.\r\n\r\nOn 3 Nov 2026, Yard wrote:\r\n> Shall we?", in_reply_to: "<#{sent[:message_id]}>"))
    note = call("GET", "/api/records/#{ticket}/interactions")["interactions"][0]
    expect(note).to include("way" => "email", "text" => "Yes.", "who" => nil, "mine" => false)
    expect(note["letter"]).to include("sender" => "aldo@sea.example", "folded" => /> Shall we/)
    call("PATCH", "/api/records/#{ticket}/interactions", {interaction: note["id"], text: "No."})
    expect(status).to eq(422)
    aldo = make("contact", {"title" => "Aldo", "email" => "Aldo@Sea.example", "owner" => "hollie"})["id"]
    take(a_notice(message_id: sent[:message_id], address: "aldo@sea.example"))
    expect(call("GET",
      "/api/records/#{aldo}")["record"]["warned"]).to match("email" => /came back on Tue 24 Nov 2026: 5.1.1/)
    sign_in("maren")
    page = call("GET", "/api/outbox?state=back")["messages"]
    expect(page.map { |one| one.values_at("id", "back") }).to match([[sent[:id], /550 There is no such mailbox/]])
    whole = call("GET", "/api/outbox/#{sent[:id]}")
    expect(whole["letters"].map { |one| one["state"] }).to eq(%w[answer back])
    expect(call("POST", "/api/mail-doors/works", {address: "aldo@sea.example"})["returned"]).to eq([])
    call("POST", "/api/mail-doors/works", {address: "aldo@sea.example"})
    expect(status).to eq(404)
  end
end
