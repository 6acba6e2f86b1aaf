# frozen_string_literal: true

RSpec.describe "The page that opens a house" do
  let(:code) { root.opening.new_code(now: Database::NOW) }

  before { Houses.empty(root) }

  it "offers what to choose from, opens with the code, and the first administrator can sign in" do
    expect(get_json("/api/session")).to include("open" => false, "house" => "Yenvo", "person" => nil)
    offered = get_json("/api/opening")
    expect(offered).to include("open" => false, "zones" => include("Europe/Riga"))
    expect(offered["regions"]).to include("key" => "lv", "name" => "Latvia")
    expect(offered["currencies"]).to include("code" => "EUR", "name" => "Euro")
    call(:post, "/api/opening", {code:, **Houses.opening})
    expect(status).to eq(201)
    call(:post, "/api/sign-in", email: "liga@pianos.example", password: "felt hammer oak")
    @token = nil
    expect(get_json("/api/session")).to include(
      "open" => true, "house" => "Ozola pianos", "person" => hash_including("name" => "Līga Ozola"),
      "may" => {"write_rules" => true, "lead" => true}
    )
    expect(get_json("/api/setup")["kinds"].map { |kind| kind["plural"] }).to eq(%w[Contacts Deals Tickets])
  end

  it "is refused without the code, and once the house is open" do
    expect(call(:post, "/api/opening", {code: "x", **Houses.opening})["fields"]).to match("code" => /bin\/yenvo code/)
    expect(status).to eq(422)
    call(:post, "/api/opening", {code:, **Houses.opening})
    expect(call(:post, "/api/opening", {code:, **Houses.opening})["error"]).to match(/opened already/)
    expect(status).to eq(409)
    expect(get_json("/api/opening")).to eq("open" => true, "zones" => [], "regions" => [], "currencies" => [])
  end

  it "slows down who guesses" do
    statuses = Array.new(21) { call(:post, "/api/opening", {code: "guess", **Houses.opening}) && status }
    expect(statuses.uniq).to eq([422, 429])
  end

  it "takes only the call of its own page" do
    call(:post, "/api/opening", {code:, **Houses.opening}, token: "none")
    expect(status).to eq(403)
    expect(root.opening.open?).to be(false)
  end
end
