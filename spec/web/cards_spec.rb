# frozen_string_literal: true

require "vcardigan"

RSpec.describe "Contacts as cards" do
  before { sign_in("hollie") }

  # Read by another library, one card after the other, lines put together again (RFC 6350, 3.2).
  def cards(path = "/api/records/cards?kind=contact&sort=title&down=0")
    get path
    last_response.body.dup.force_encoding("UTF-8").split(/(?<=END:VCARD\r\n)/).map { |text| VCardigan.parse(text) }
  end

  it "hold names, e-mails, phones and the rest as notes, each line at most 75 octets" do
    make("contact", "title" => "Aldo Renn, jun.", "email" => "aldo@sea.example", "phone" => "+353 555 0147",
      "berth" => "B7; outer", "country" => "ireland")
    make("contact", "title" => "Žofie #{"é" * 80}")
    aldo, other = cards
    expect([last_response.headers["content-type"], aldo.version]).to eq(["text/vcard; charset=utf-8", "4.0"])
    expect([aldo.fn, aldo.email, aldo.tel].map { |found| found.first.values.join(",") }).to eq(
      ["Aldo Renn\\, jun.", "aldo@sea.example", "+353 555 0147"]
    )
    expect(aldo.note.map { |one| one.values.join }).to include("Country: Ireland")
    expect(last_response.body).to include("NOTE:Berth: B7\\; outer\r\n")
    expect(other.fn.first.values.join).to eq("Žofie #{"é" * 80}")
    lines = last_response.body.b.split("\r\n")
    expect(lines.map(&:bytesize).max).to be <= 75
    expect(last_response.body.lines).to all(end_with("\r\n"))
  end

  it "are of contacts alone, of those that may be seen, narrowed as the list is" do
    make("contact", "title" => "Aldo", "country" => "ireland")
    make("contact", "title" => "Berta", "country" => "france")
    found = cards("/api/records/cards?kind=contact&where.country=france")
    expect(found.map { |one| one.fn.first.values }).to eq([["Berta"]])
    get "/api/records/cards?kind=deal"
    expect([status, last_response.body]).to match([422, /Cards are of contacts/])
    db[:kinds].where(key: "contact").update(seen_by: "administrators")
    root.transaction { root.setup_store.changed(who: nil, now: Database::NOW) }
    expect(cards).to eq([])
  end
end
