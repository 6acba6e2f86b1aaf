# frozen_string_literal: true

require "rotp"

RSpec.describe "The second step at sign-in" do
  def password = Yenvo::Settings::DEMO_PASSWORD
  def session = get_json("/api/session")
  def in? = session["person"] && get_json("/api/setup") && status == 200
  def code(secret, at = Time.now) = ROTP::TOTP.new(secret).at(at)
  def account(person) = db[:accounts].where(person:).get(:id)

  # Codes are good once; the clock of the database goes on meanwhile.
  def later(person)
    db[:account_otp_keys].where(id: account(person)).update(last_use: Sequel.lit("NOW() - INTERVAL 2 MINUTE"))
  end

  # @return [Array(String, Array<String>)] secret and recovery codes
  def set_up(person)
    offered = call(:post, "/api/otp-setup", {})
    expect(offered["uri"]).to start_with("otpauth://totp/")
    secret, raw = offered.values_at("otp_secret", "otp_raw_secret")
    done = call(:post, "/api/otp-setup", password:, otp: code(secret), otp_secret: secret, otp_raw_secret: raw)
    later(person) if status == 200
    [secret, done["codes"]]
  end

  it "asks for a code after the password, and lets in nobody without one" do
    sign_in("hollie")
    secret, codes = set_up("hollie")
    expect(status).to eq(200)
    expect(codes.size).to eq(10)
    expect(codes).to all(match(/\A(\w{4}-){2}\w{4}\z/))
    expect(in?).to be(true)
    expect(get_json("/api/me")["second_step"]).to eq("set_up" => true, "needed" => false)
    sign_in("hollie")
    expect(session).to include("person" => nil, "missing_step" => "code")
    %w[/api/setup /api/worklist /api/live /api/me /api/notices].each do |path|
      expect([path, get(path).status]).to eq([path, 401])
    end
    call(:post, "/api/change-password", password:, "new-password": "felt hammer oak")
    expect(status).to eq(401)
    call(:post, "/api/otp-disable", password:)
    expect(status).to eq(401)
    call(:post, "/api/recovery-codes", password:)
    expect(status).to eq(401)
    call(:post, "/api/otp-setup", {})
    expect(status).to be_between(400, 422)
    expect(call(:post, "/api/otp-auth", otp: "000000")["error"]).to match(/The code is not right/)
    expect([status, session["person"]]).to eq([422, nil])
    call(:post, "/api/otp-auth", otp: code(secret))
    expect([status, in?]).to eq([200, true])
  end

  it "takes a code once only" do
    sign_in("hollie")
    secret, = set_up("hollie")
    sign_in("hollie")
    now = code(secret)
    call(:post, "/api/otp-auth", otp: now)
    expect(status).to eq(200)
    sign_in("hollie")
    call(:post, "/api/otp-auth", otp: now)
    expect([status, session["person"]]).to eq([422, nil])
  end

  it "locks codes after five wrong ones; a recovery code, good once, still lets in" do
    sign_in("hollie")
    secret, codes = set_up("hollie")
    sign_in("hollie")
    5.times { call(:post, "/api/otp-auth", otp: "123456") }
    expect(call(:post, "/api/otp-auth", otp: code(secret))["error"]).to match(/Too many wrong codes/)
    expect(in?).to be_falsey
    call(:post, "/api/recovery-auth", code: "aaaa-bbbb-cccc")
    expect(status).to eq(422)
    call(:post, "/api/recovery-auth", code: codes[3])
    expect([status, in?]).to eq([200, true])
    left = call(:post, "/api/recovery-codes", password:)["codes"]
    expect(left).to match_array(codes - [codes[3]])
    expect(call(:post, "/api/recovery-codes", password: "guess")["error"]).to match(/not right/)
    expect(call(:post, "/api/recovery-codes", password:, add: "yes")["codes"].size).to eq(10)
    sign_in("hollie")
    call(:post, "/api/recovery-auth", code: codes[3])
    expect([status, in?]).to match([422, nil])
    call(:post, "/api/otp-auth", otp: code(secret))
    expect(status).to eq(200)
  end

  it "slows down who guesses recovery codes, or the password in front of them" do
    sign_in("hollie")
    set_up("hollie")
    within_one_minute
    guess = -> { call(:post, "/api/recovery-codes", password: "guess") && status }
    expect(Array.new(21) { guess.call }.tally).to eq(422 => 20, 429 => 1)
    db[:counts].delete
    sign_in("hollie")
    expect(Array.new(21) { call(:post, "/api/recovery-auth", code: "aaaa-bbbb-cccc") && status }.tally).to eq(
      422 => 20, 429 => 1
    )
  end

  it "is set up only with the password and a code that was made of the secret" do
    sign_in("hollie")
    offered = call(:post, "/api/otp-setup", {})
    given = {password:, otp: code(offered["otp_secret"]), **offered.slice("otp_secret", "otp_raw_secret")}
    expect(call(:post, "/api/otp-setup", **given, password: "guess")["error"]).to match(/password .* is not right/)
    expect(status).to eq(422)
    expect(call(:post, "/api/otp-setup", **given, otp: "1")["error"]).to match(/code is not right/)
    expect(call(:post, "/api/otp-setup", **given, "otp_raw_secret" => "a" * 32)["error"]).to match(/Begin anew/)
    expect(db[:account_otp_keys].count).to eq(0)
    call(:post, "/api/otp-setup", **given)
    expect(status).to eq(200)
    expect(call(:post, "/api/otp-setup", {})["error"]).to match(/second step already/)
    expect(call(:post, "/api/otp-disable", password: "guess")["error"]).to match(/not right/)
    call(:post, "/api/otp-disable", password:)
    expect([status, db[:account_otp_keys].count, db[:account_recovery_codes].count]).to eq([200, 0, 0])
    sign_in("hollie")
    expect(in?).to be(true)
  end

  it "can be needed by a role: whoever has none reaches nothing but setting it up, in open sessions too" do
    sign_in("tobias")
    lead = session_cookie
    sign_in("maren")
    call(:put, "/api/setup/second-step", roles: %w[lead])
    expect(status).to eq(200)
    expect(status_by(lead)).to eq(401)
    sign_in("tobias")
    expect(session).to include("person" => nil, "missing_step" => "set_up")
    expect(get("/api/setup").status).to eq(401)
    secret, = set_up("tobias")
    expect(in?).to be(true)
    expect(call(:post, "/api/otp-disable", password:)["error"]).to match(/Your role needs a second step/)
    expect([status, db[:account_otp_keys].count]).to eq([422, 1])
    sign_in("tobias")
    expect(session["missing_step"]).to eq("code")
    call(:post, "/api/otp-auth", otp: code(secret))
    expect(in?).to be(true)
    sign_in("hollie")
    expect(in?).to be(true)
    call(:put, "/api/setup/second-step", roles: [])
    expect(status).to eq(403)
    sign_in("maren")
    call(:put, "/api/setup/second-step", roles: ["pirate"])
    expect(status).to eq(422)
  end

  it "ends the live streams of whoever needs one and has none" do
    sign_in("tobias")
    session = db[:account_active_session_keys].where(account_id: account("tobias")).first
    still = -> { root.people.sessions_among([session.slice(:account_id, :session_id)]).size }
    expect(still.call).to eq(1)
    Yenvo::Store::SetupChanges.new(root).second_step(%w[lead], cause: cause("maren"))
    expect(still.call).to eq(0)
    db[:account_otp_keys].insert(id: account("tobias"), key: "a" * 32)
    expect(still.call).to eq(1)
  end

  it "is set up once when two set one up in the same moment" do
    sign_in("hollie")
    offered = call(:post, "/api/otp-setup", {})
    given = {password:, otp: code(offered["otp_secret"]), **offered.slice("otp_secret", "otp_raw_secret")}
    # The other is written between the look whether there is one and the writing of this one.
    allow(root.setup_store).to receive(:house_name).and_wrap_original do |original|
      long_ago = Sequel.lit("NOW() - INTERVAL 2 MINUTE")
      db[:account_otp_keys].insert_ignore.insert(id: account("hollie"), key: "b" * 32, last_use: long_ago)
      original.call
    end
    expect(call(:post, "/api/otp-setup", **given)["error"]).to match(/second step already/)
    expect([status, db[:account_otp_keys].get(:key)]).to eq([422, "b" * 32])
  end

  it "is taken away by an administrator for somebody who has lost it, who is told" do
    sign_in("hollie")
    set_up("hollie")
    sign_in("maren")
    shown = call(:delete, "/api/setup/second-step", person: "hollie")["setup"]["people"]
    expect(shown.find { |one| one["key"] == "hollie" }).to include("second_step" => false)
    sign_in("hollie")
    expect(in?).to be(true)
    expect(db[:notices].where(person: "hollie").get(:text)).to match(/taken away by Maren Oduya/)
    call(:delete, "/api/setup/second-step", person: "osk")
    expect(status).to eq(403)
  end

  it "is not passed by a link for a new password" do
    sign_in("hollie")
    set_up("hollie")
    sign_in("maren")
    key = call(:post, "/api/setup/links", person: "hollie")["link"].split("#").last
    call(:post, "/api/sign-out")
    @token = nil
    call(:post, "/api/reset-password", key:, password: "felt hammer oak")
    expect(status).to eq(200)
    @token = nil
    expect(session).to include("person" => nil, "missing_step" => "code")
  end

  it "is nobody's who has not signed in" do
    given = {password:, otp: "123456", code: "aaaa-bbbb-cccc"}
    {
      "otp-setup" => %i[password], "otp-auth" => %i[otp], "otp-disable" => %i[password], "recovery-auth" => %i[code],
      "recovery-codes" => %i[password]
    }.each do |route, names|
      clear_cookies
      @token = nil
      call(:post, "/api/#{route}", **given.slice(*names))
      expect([route, status]).to eq([route, 401])
    end
  end
end
