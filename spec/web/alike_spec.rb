# frozen_string_literal: true

RSpec.describe "Records that may be the same" do
  include MarkedHouse

  def alike(kind = "contact", **values)
    call(:post, "/api/records/alike", kind:, values:)["alike"].map { |one| one.values_at("title", "why") }
  end

  before do
    make("contact", {"title" => "Aldo Renn", "email" => "Aldo@sea.example", "phone" => "+353 555 0147"})
    make("contact", {"title" => "Bo", "owner" => "callum"})
    sign_in("hollie")
  end

  it "are found by e-mail, by the last digits of a phone, and by the words of the title" do
    expect(alike(email: "aldo@SEA.example")).to eq([["Aldo Renn", "the same e-mail"]])
    expect(alike(phone: "(0) 555-0148", title: "Someone")).to eq([])
    expect(alike(phone: "0353/5550147")).to eq([["Aldo Renn", "the same phone"]])
    expect(alike(title: "renn, ALDO")).to eq([["Aldo Renn", "the same title"]])
    expect(alike(title: "Aldo")).to eq([])
    expect(alike(title: "bo")).to eq([["Bo", "the same title"]])
    expect(alike(title: "Renn Aldo", email: "aldo@sea.example")).to eq([["Aldo Renn", "the same e-mail"]])
    expect(alike("deal", title: "Aldo Renn")).to eq([])
  end

  it "are not told of to whom does not see them, nor break on what nobody means" do
    let_see("contact", "owner")
    expect(alike(title: "Bo")).to eq([])
    odd = [{"nothing" => "x"}, {"title" => "%_"}, {"phone" => "%%%%%%%%"}, {"email" => "'"}, {"title" => "x" * 5_000}]
    odd.each do |values|
      call(:post, "/api/records/alike", kind: "contact", values:)
      expect(status).to eq(200), values.inspect[0, 60]
    end
    call(:post, "/api/records/alike", kind: "nothing", values: {})
    expect(status).to eq(404)
  end
end
