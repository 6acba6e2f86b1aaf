# frozen_string_literal: true

RSpec.describe "Lists over the API: views, filters, columns" do
  def view(name = "Mine", whose: "mine", id: nil, **more)
    body = {kind: "deal", name:, query: {"where.stage" => "quoted"}, whose:, **more}
    call(id ? :put : :post, "/api/views#{"/#{id}" if id}", body)
  end

  def names = get_json("/api/views?kind=deal")["views"].map { |one| one["name"] }

  def list(**query)
    rows = get_json("/api/records?#{URI.encode_www_form(kind: "deal", **query)}")["rows"]
    rows.map { |one| one["title"] }
  end

  it "keeps views for one, a team or everybody" do
    sign_in("hollie")
    mine = view["id"]
    expect(status).to eq(201)
    view("Ours", whose: "team")
    all = view("All", whose: "everybody")["id"]
    expect(names).to eq(%w[All Mine Ours])
    expect(view("Mine too", id: mine)["views"].map { |one| one["name"] }).to include("Mine too")
    sign_in("callum")
    together = root.schema.person("callum").teams.include?(root.schema.person("hollie").team)
    expect(names).to eq(together ? %w[All Ours] : %w[All])
    view("Other", id: all)
    expect(status).to eq(403)
    call(:delete, "/api/views/#{mine}")
    expect(status).to eq(404)
    sign_in("maren")
    call(:delete, "/api/views/#{all}")
    expect([status, names.include?("All")]).to eq([200, false])
    clear_cookies
    @token = nil
    view
    expect(status).to eq(401)
  end

  it "answers what is no view with a sentence" do
    sign_in("hollie")
    [[{name: " "}, 422], [{name: "x" * 61}, 422], [{whose: "ours"}, 400], [{whose: "team", team: "nobody"}, 422],
      [{kind: "boat"}, 422], [{query: (1..5).to_h { |n| ["holds.f#{n}", "x" * 1_500] }}, 422]].each do |more, code|
      view(name: "Fine", **more)
      expect([more.keys, status]).to eq([more.keys, code])
    end
    view("Gone", id: 999)
    expect(status).to eq(404)
    hollie = root.schema.person("hollie")
    100.times do |n|
      given = {"kind" => "deal", "name" => "V#{n}", "whose" => "mine"}
      root.views.save(nil, given, hollie, now: Database::NOW)
    end
    expect(view["error"]).to match(/100 views of this list/)
  end

  it "narrows by words in any text, digits of a phone, a link, and by what is empty" do
    aldo = make("contact", {"title" => "Aldo", "phone" => "+353 87 123 4567", "email" => "aldo@sea.example"})["id"]
    make("contact", {"title" => "Bo", "club" => "North #{"x" * 70} end"})
    make("deal", {"title" => "Quiet Hour", "boat_owner" => aldo, "value" => 5, "order_number" => "AB-12"})
    make("deal", {"title" => "Grey 100% Wren"})
    sign_in("maren")
    {
      {"holds.title" => "iet h"} => ["Quiet Hour"], {"holds.title" => "100% W"} => ["Grey 100% Wren"],
      {"holds.title" => "_"} => [], {"holds.order_number" => "b-1"} => ["Quiet Hour"],
      {"is.value" => "filled"} => ["Quiet Hour"],
      {"is.value" => "empty"} => ["Grey 100% Wren"], {"where.boat_owner" => aldo} => ["Quiet Hour"],
      {"is.boat_owner" => "empty"} => ["Grey 100% Wren"], {"holds.title" => "grey", "is.value" => "filled"} => []
    }.each { |query, titles| expect([query, list(**query)]).to eq([query, titles]) }
    {"holds.phone" => "1234567", "holds.email" => "SEA.ex", "holds.club" => "end"}.each do |name, value|
      rows = get_json("/api/records?kind=contact&#{name}=#{value}")["rows"]
      expect([name, rows.map { |one| one["title"] }]).to eq([name, [(name == "holds.club") ? "Bo" : "Aldo"]])
    end
    ["holds.value=5", "holds.nothing=5", "is.value=full", "is.nothing=empty"].each do |query|
      get_json("/api/records?kind=deal&#{query}")
      expect([query, status]).to eq([query, 422])
    end
    many = (1..11).map { |n| "holds.f#{n}=x" }.join("&")
    expect([get_json("/api/records?kind=deal&#{many}")["error"], status]).to match([/at most 10 fields/, 422])
    expect(get_json("/api/records/count?kind=deal&is.value=empty")).to eq("count" => 1)
    get("/api/records/table?kind=deal&columns=title,value&holds.title=quiet")
    quiet = db[:records].where(title: "Quiet Hour").get(:id)
    expect(last_response.body.split("\r\n")).to eq(["Number,Title,Value", "#{quiet},Quiet Hour,5"])
    ids = db[:records].where(kind: "deal").select_order_map(:id)
    get("/api/records/table?kind=deal&columns=title&ids=#{ids[1]},#{aldo}")
    expect(last_response.body.split("\r\n").size).to eq(2)
  end

  it "logs a call that was on another day" do
    id = make("deal", {"title" => "Quiet Hour"})["id"]
    sign_in("hollie")
    call(:post, "/api/records/#{id}/interactions", {way: "call", text: "Today."})
    call(:post, "/api/records/#{id}/interactions", {way: "call", text: "Before.", at: "2026-11-20T09:00:00Z"})
    expect(status).to eq(201)
    told = get_json("/api/records/#{id}/interactions")["interactions"]
    expect(told.map { |one| one.values_at("text", "at") }).to match(
      [["Today.", anything], ["Before.", "2026-11-20T09:00:00.000000Z"]]
    )
    expect(root.records.find!(id)["last_contact"]).to eq(told[0]["at"])
    expect(get_json("/api/records/#{id}")["history"].to_json).to include("2026-11-20T09:00:00")
    [
      ["2099-01-01T00:00:00Z", 422], ["1990-01-01T00:00:00Z", 422], ["yesterday", 422], ["2026-11-20T09:00", 201]
    ].each do |at, code|
      call(:post, "/api/records/#{id}/interactions", {way: "call", text: "x", at:})
      expect([at, status]).to eq([at, code])
    end
  end
end
