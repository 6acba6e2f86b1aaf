# frozen_string_literal: true

RSpec.describe "Addresses over the API" do
  def sentence = JSON.parse(last_response.body)["fields"]&.values&.first
  def board(**more) = {name: "Yard board", way: "board", url: "https://chat.example/hooks/9f3k2", **more}

  def office(**more)
    {name: "Office", way: "call", url: "https://office.example/in", fields: {deal: %w[title value]}, **more}
  end

  def add(given) = call(:post, "/api/addresses", address: given)
  def used = get_json("/api/addresses")["addresses"]

  before { sign_in("maren") }

  it "are added, changed, taken away and brought back, and nobody reads where exactly they are" do
    expect(add(board).values_at("key", "secret")).to eq(["yard_board", nil])
    made = add(office(per_minute: 30))
    expect(made["secret"]).to match(%r{\Awhsec_[A-Za-z0-9+/]{43}=\z})
    expect(used.map { |one| one.values_at("key", "host", "per_minute", "fields") }).to eq(
      [["office", "office.example", 30, {"deal" => %w[title value]}], ["yard_board", "chat.example", nil, {}]]
    )
    call(:put, "/api/addresses", key: "office", address: {name: "Back office", way: "call", url: nil, fields: {}})
    expect(db[:addresses].where(key: "office").first).to include(
      name: "Back office", url: "https://office.example/in", secret: made["secret"], per_minute: nil
    )
    call(:delete, "/api/addresses", key: "office")
    expect([get_json("/api/setup")["addresses"].map { |one| one["key"] }, used[0]["retired_at"]]).to match(
      [["yard_board"], String]
    )
    call(:post, "/api/addresses/back", key: "office")
    expect(get_json("/api/setup")["addresses"].map { |one| one["name"] }).to eq(["Back office", "Yard board"])
    all = [get_json("/api/addresses"), get_json("/api/setup"), get_json("/api/audit")].to_s
    expect(all).to include("added the address Yard board")
    [made["secret"], "9f3k2"].each { |secret| expect(all).not_to include(secret) }
    expect(db[:setups].select_map(:body).join).not_to include("9f3k2")
  end

  it "get another secret, beside which the one before counts until it is dropped" do
    first = add(office)["secret"]
    second = call(:post, "/api/addresses/secret", key: "office")["secret"]
    expect(db[:addresses].first.slice(:secret, :second_secret).values).to eq([second, first])
    expect(used[0]["second"]).to be(true)
    call(:delete, "/api/addresses/secret", key: "office")
    expect(db[:addresses].first.slice(:secret, :second_secret).values).to eq([second, nil])
    add(board)
    call(:post, "/api/addresses/secret", key: "yard_board")
    expect([status, sentence]).to eq([422, "Calls alone are signed."])
  end

  {
    {url: "ftp://chat.example"} => /a web address such as/,
    {url: "https://me:pw@chat.example/"} => /without a name or password/,
    {url: "nonsense"} => /a web address/, {url: ""} => /a web address/,
    {url: "https://#{"x" * 600}"} => /a web address/,
    {name: " "} => /takes a few words/, {per_minute: 0} => /from 1 to 10,000/,
    {fields: {nothing: ["title"]}, way: "call"} => /no kind of record “?"?nothing/,
    {fields: {deal: ["shoes"]}, way: "call"} => /A deal has no field/
  }.each do |given, words|
    it "are refused with #{given.to_s[0, 60]}" do
      add(board(**given))
      expect([status, sentence]).to match([422, words])
      expect(used).to eq([])
    end
  end

  it "are named once, and there once" do
    add(board)
    add(board(url: "https://other.example"))
    expect(sentence).to eq("There is an address Yard board already.")
    call(:put, "/api/addresses", key: "nobody", address: board)
    expect(status).to eq(404)
  end

  it "are told apart when two are added, or their secret is changed, at once", :committed do
    given = {"name" => "Office", "way" => "call", "url" => "https://office.example/in"}
    at_once = ->(&act) do
      Array.new(3) do
        Thread.new do
          own = Yenvo::Store::Root.open(Database.url, connections: 1)
          act.call(Yenvo::Store::Addresses.new(own))
        rescue Yenvo::Store::Refused
          nil
        ensure
          own.db.disconnect
        end
      end.map(&:value)
    end
    made = at_once.call { |store| store.write(nil, given, cause: cause("maren")) }
    expect([made.compact.size, db[:addresses].select_map(:key)]).to eq([1, ["office"]])
    secrets = at_once.call { |store| store.change_secret("office", cause: cause("maren")) }
    expect(secrets).to include(*db[:addresses].first.values_at(:secret, :second_secret))
  ensure
    Database.clear
    root.setup_store.changed(who: nil, now: Database::NOW)
    root.forget
  end

  it "stay while a rule leans on them, unless they are to go all the same" do
    add(board)
    root.forget
    write = {"action" => "board", "address" => "yard_board", "text" => "Look"}
    publish("name" => "Look", "record" => "deal", "trigger" => {"when" => "record_made"}, "how_often" => "every_time",
      "branching" => "first", "branches" => [{"do" => [write]}])
    call(:delete, "/api/addresses", key: "yard_board")
    expect([status, sentence]).to match([422, /“Look” leans on the address Yard board/])
    call(:delete, "/api/addresses", key: "yard_board", anyway: true)
    expect(status).to eq(200)
  end

  it "are sent a sample by a press" do
    add(office)
    number = call(:post, "/api/addresses/try", key: "office")["message"]
    shown = get_json("/api/outbox/#{number}")
    expect(shown["message"]).to include("destination" => "Office", "way" => "call", "state" => "waiting",
      "by" => "maren")
    expect(JSON.parse(shown["text"])).to include("type" => "yenvo.sample", "specversion" => "1.0")
  end

  it "are for administrators" do
    sign_in("tobias")
    add(board)
    expect(status).to eq(403)
    get_json("/api/addresses")
    expect(status).to eq(403)
  end
end
