# frozen_string_literal: true

RSpec.describe "Tokens" do
  def sentence = JSON.parse(last_response.body)["fields"].values.first
  def make(**given) = call(:post, "/api/me/tokens", name: "Till", scopes: ["read"], expires_on: "2026-12-31", **given)

  # Calls as a program does: with the header alone, no cookie, no token against forgery.
  def by(token, method, path, body = nil)
    clear_cookies
    headers = {"HTTP_AUTHORIZATION" => "Bearer #{token}"}
    headers["CONTENT_TYPE"] = "application/json" if body
    custom_request(method.to_s.upcase, path, body ? JSON.generate(body) : {}, headers)
    last_response.status
  end

  def answer = JSON.parse(last_response.body)

  it "are made by a person for themselves, shown once, and let do what both they and the person may" do
    sign_in("hollie")
    made = make(scopes: %w[read work])
    secret = made["secret"]
    expect(secret).to match(/\Ayenvo_\w{40}\z/)
    expect(made["tokens"][0]).to include("name" => "Till", "scopes" => %w[read work], "used_at" => nil, "alive" => true)
    expect(get_json("/api/me/tokens").to_s).not_to include(secret)
    expect(db[:tokens].get(:digest)).not_to include(secret)
    expect(by(secret, :get, "/api/worklist")).to eq(200)
    expect(last_response.headers).not_to have_key("set-cookie")
    expect(by(secret, :post, "/api/tasks", {title: "Splice"})).to eq(201)
    expect(db[:tasks].first).to include(title: "Splice", made_by: "hollie")
    expect(by(secret, :post, "/api/records", {kind: "deal", values: {title: "Quiet Hour"}})).to eq(403)
    expect(answer["error"]).to eq("This token does not let you make and change records (records).")
    expect(by(secret, :get, "/api/me")).to eq(403)
    expect(answer["error"]).to eq("This call is not for tokens; sign in for it.")
    sign_in("hollie")
    rich = make(scopes: Yenvo::Store::Tokens::SCOPES.keys)["secret"]
    expect(by(rich, :get, "/api/setup/house")).to eq(403)
    expect(answer["error"]).to match(/The set-up is changed by administrators/)
    sign_in("hollie")
    expect(get_json("/api/me/tokens")["tokens"].map { |one| one["used_at"].nil? }).to eq([false, false])
  end

  it "end at once when they are ended, expire, or the person leaves" do
    sign_in("hollie")
    first, second, third = Array.new(3) { make["secret"] }
    id = get_json("/api/me/tokens")["tokens"].last["id"]
    call(:delete, "/api/me/tokens", id:)
    expect(status).to eq(200)
    expect(by(first, :get, "/api/worklist")).to eq(401)
    expect(answer["error"]).to match(/is not known, has been ended or has expired/)
    db[:tokens].where(id: id + 1).update(expires_at: Database::NOW - 1)
    expect(by(second, :get, "/api/worklist")).to eq(401)
    expect(by(third, :get, "/api/worklist")).to eq(200)
    Yenvo::Store::SetupChanges.new(root).leave("hollie", cause: cause("maren"))
    expect(by(third, :get, "/api/worklist")).to eq(401)
  end

  it "hold to the end of their last day, by the clock of the house" do
    sign_in("hollie")
    make(expires_on: "2026-11-24")
    expect(db[:tokens].get(:expires_at)).to eq(Time.utc(2026, 11, 25))
  end

  it "are made by administrators for programs, which sign in nowhere and are given nothing to do" do
    sign_in("maren")
    token = {name: "Website", scopes: %w[read records], expires_on: "2026-12-31"}
    made = call(:post, "/api/setup/tokens", {new_program: {name: "Website", role: "member"}, token:})
    expect(status).to eq(201), made.to_s
    expect(by(made["secret"], :post, "/api/records",
      {kind: "deal", values: {title: "Quiet Hour", owner: nil}})).to eq(201)
    expect(db[:records].get(:creator)).to eq("website")
    sign_in("maren")
    expect(get_json("/api/setup")["people"].find { |one| one["key"] == "website" }).to include("program" => true)
    expect(get_json("/api/team?by=person")["rows"].map { |row| row["key"] }).not_to include("website")
    call(:post, "/api/tasks", title: "Look", assignee: "website")
    expect([status, sentence]).to eq([422, "Website is a program; choose a person."])
    call(:post, "/api/setup/tokens", {program: "website", token: token.merge(name: "Second")})
    expect(status).to eq(201)
    call(:post, "/api/setup/tokens", {program: "hollie", token:})
    expect([status, sentence]).to match([422, /Choose a program/])
    call(:post, "/api/setup/links", person: "website")
    expect([status, sentence]).to eq([422, "Website is a program and signs in nowhere."])
    all = get_json("/api/setup/tokens")["tokens"]
    expect(all.map { |one| one["whose"] }).to eq(%w[Website Website])
    call(:delete, "/api/setup/tokens", id: all[0]["id"])
    told = get_json("/api/audit?what=tokens")["rows"].map { |row| row["words"] }
    expect(told).to eq(
      ["ended the token “Second”", "made the token “Second” for Website", "made the token “Website” for Website"]
    )
    sign_in("tobias")
    call(:post, "/api/setup/tokens", {program: "website", token:})
    expect(status).to eq(403)
  end

  it "are nobody else's to see or to end, and make no others" do
    sign_in("osk")
    secret = make(scopes: Yenvo::Store::Tokens::SCOPES.keys)["secret"]
    id = db[:tokens].get(:id)
    sign_in("hollie")
    expect(get_json("/api/me/tokens")["tokens"]).to eq([])
    call(:delete, "/api/me/tokens", id:)
    expect(status).to eq(404)
    expect(by(secret, :post, "/api/me/tokens", {name: "x", scopes: ["read"], expires_on: "2026-12-31"})).to eq(403)
    expect(by(secret, :post, "/api/sign-in", {email: "osk@fennick.example", password: "x"})).to eq(403)
    expect(by(secret, :get, "/api/live")).to eq(403)
    expect(by(secret, :get, "/api/nothing")).to eq(404)
  end

  it "let nobody in: people, links, second steps and hand-overs are for who has signed in, whatever the scope" do
    sign_in("maren")
    secret = make(scopes: Yenvo::Store::Tokens::SCOPES.keys)["secret"]
    person = {name: "Eve", email: "eve@fennick.example", role: "administrator"}
    {
      [:post, "persons"] => {person:}, [:put, "persons"] => {key: "maren", person:},
      [:post, "links"] => {person: "maren"},
      [:delete, "second-step"] => {person: "maren"}, [:put, "second-step"] => {roles: []},
      [:post, "leaving"] => {person: "wen", to: {}}, [:post, "leaving/back"] => {person: "wen"}
    }.each do |(method, path), body|
      expect([path, by(secret, method, "/api/setup/#{path}", body)]).to eq([path, 403])
    end
    expect(by(secret, :get, "/api/setup/house")).to eq(200)
  end

  it "are limited in calls a minute over all processes, and wrong ones are slowed down" do
    sign_in("hollie")
    secret = make(per_minute: 3)["secret"]
    expect(Array.new(5) { by(secret, :get, "/api/worklist/counts") }).to eq([200, 200, 200, 429, 429])
    wrong = ["yenvo_#{"a" * 40}", "x", "", "Bearer", "é" * 30, "a" * 5_000]
    expect(wrong.map { |one| by(one, :get, "/api/worklist") }).to all(eq(401))
    expect(Array.new(20) { by("yenvo_#{"b" * 40}", :get, "/api/worklist") }).to include(429)
  end

  it "are refused where they say nothing sound" do
    sign_in("hollie")
    {
      {scopes: []} => /Choose what the token lets do/, {scopes: ["fly"]} => /has no scope "fly"/,
      {expires_on: "2026-11-23"} => /ends on a day from today/, {expires_on: "2030-01-01"} => /two years/,
      {expires_on: "soon"} => /Choose the last day/, {name: ""} => /takes a few words/,
      {per_minute: 0} => /a number from 1/
    }.each do |given, words|
      make(**given)
      expect([status, sentence]).to match([422, words])
    end
    expect(db[:tokens].count).to eq(0)
  end

  it "have a scope for each call of the description" do
    known = [*Yenvo::Store::Tokens::SCOPES.keys, "none"]
    WebClient.contract.operations.each do |operation|
      expect(known).to include(operation.plain["x-scope"]), "#{operation.method} #{operation.path} says no x-scope"
    end
    expect(Yenvo::Web::Contract::DOCUMENT.dig("components", "securitySchemes",
      "token")).to include("scheme" => "bearer")
  end
end
