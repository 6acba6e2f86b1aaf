# frozen_string_literal: true

RSpec.describe "One's own page" do
  def change(password, new_password) =
    call(:post, "/api/change-password", password: password, "new-password": new_password)

  # A session of Hollie's on another device.
  # @return [String] its cookie
  def elsewhere(agent = "Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Safari/605.1")
    header "User-Agent", agent
    sign_in("hollie")
    session_cookie.tap { header "User-Agent", nil }
  end

  def alive?(cookie) = status_by(cookie) == 200

  it "changes the password by the one that holds, and ends all other sessions" do
    other = elsewhere
    sign_in("hollie")
    expect(change("guess", "felt hammer oak")["error"]).to match(/that you have now is not right/)
    expect(status).to eq(422)
    expect(change(Yenvo::Settings::DEMO_PASSWORD, "short")["error"]).to match(/at least 10 characters/)
    expect(status).to eq(422)
    expect(change(Yenvo::Settings::DEMO_PASSWORD, Yenvo::Settings::DEMO_PASSWORD)["error"]).to match(/you have already/)
    expect(alive?(other)).to be(true)
    change(Yenvo::Settings::DEMO_PASSWORD, "felt hammer oak")
    expect(status).to eq(200)
    get_json("/api/setup")
    expect(status).to eq(200)
    expect(alive?(other)).to be(false)
    sign_in("hollie")
    expect(status).to eq(401)
  end

  it "makes a link that is on its way worth nothing" do
    sign_in("maren")
    key = call(:post, "/api/setup/links", person: "hollie")["link"].split("#").last
    sign_in("hollie")
    change(Yenvo::Settings::DEMO_PASSWORD, "felt hammer oak")
    call(:post, "/api/reset-password", key:, password: "another oak felt")
    expect(status).to eq(422)
  end

  it "shows one's sessions with device and last use, and ends one or all others; nobody else's" do
    phone, tablet = elsewhere, elsewhere("Tablet")
    sign_in("osk")
    osk = session_cookie
    account = db[:accounts].where(person: "osk").get(:id)
    osks = db[:account_active_session_keys].where(account_id: account).get(:session_id)
    sign_in("hollie")
    shown = get_json("/api/me/sessions")["sessions"]
    expect(shown.map { |one| [one["device"], one["here"]] }).to match_array(
      [[/iPhone/, false], ["Tablet", false], [nil, true]]
    )
    gone = shown.find { |one| one["device"] == "Tablet" }["id"]
    expect(call(:delete, "/api/me/sessions", id: gone)["sessions"].size).to eq(2)
    expect([alive?(tablet), alive?(phone)]).to eq([false, true])
    call(:delete, "/api/me/sessions", id: osks)
    expect(alive?(osk)).to be(true)
    expect(call(:delete, "/api/me/sessions", id: nil)["sessions"].map { |one| one["here"] }).to eq([true])
    expect([alive?(phone), alive?(osk)]).to eq([false, true])
  end

  it "slows down who guesses the password of a session that was left open" do
    sign_in("hollie")
    within_one_minute
    expect(Array.new(21) { change("guess", "felt hammer oak") && status }.tally).to eq(422 => 20, 429 => 1)
  end

  it "changes name, zone and days away, and refuses what is none of them" do
    sign_in("hollie")
    call(:put, "/api/me", name: "Hollie B", zone: "Europe/Riga", absences: [{from: "2026-12-01", to: "2026-12-03"}])
    expect(get_json("/api/me")).to include(
      "name" => "Hollie B", "zone" => "Europe/Riga", "house_zone" => "Europe/Dublin",
      "absences" => [{"from" => "2026-12-01", "to" => "2026-12-03"}]
    )
    expect(get_json("/api/setup")).to include("zone" => "Europe/Dublin", "shown_zone" => "Europe/Riga")
    expect(root.calendar.away_until("hollie", Date.new(2026, 12, 2))).to eq(Date.new(2026, 12, 3))
    {
      {zone: "Europe/Nowhere"} => /There is no time zone/, {name: ""} => /takes a few words/,
      {absences: [{from: "2026-12-03", to: "2026-12-01"}]} => /ends on or after/,
      {told: {everything: "none"}} => /nothing called/
    }.each do |given, words|
      call(:put, "/api/me", **given)
      expect([status, JSON.parse(last_response.body)["fields"].values[0]]).to match([422, words])
    end
    call(:put, "/api/me", zone: nil, absences: [])
    expect(get_json("/api/me")).to include("name" => "Hollie B", "zone" => nil, "absences" => [])
    call(:put, "/api/me", role: "administrator")
    expect(status).to eq(400)
  end

  it "chooses what one is told of; what a person tells one always comes" do
    sign_in("hollie")
    call(:put, "/api/me", told: {given: "none"})
    expect(get_json("/api/me")["tell"].to_h { |one| one.values_at("key", "way") }).to include(
      "given" => "none", "reminder" => "bell", "queue" => "none"
    )
    sign_in("tobias")
    task = call(:post, "/api/tasks", title: "Splice", assignee: "hollie")
    call(:post, "/api/tasks", title: "Whip", assignee: "osk")
    call(:post, "/api/tasks/#{task["id"]}/comments", text: "Ask @hollie about it")
    expect(db[:notices].order(:id).select_map(:person)).to eq(%w[osk hollie])
  end

  it "is nobody's who has not signed in" do
    clear_cookies
    @token = nil
    expect(change("x", "felt hammer oak")["error"]).to match(/Sign in first/)
    expect(status).to eq(401)
  end
end
