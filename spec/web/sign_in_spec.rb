# frozen_string_literal: true

RSpec.describe "Signing in" do
  it "lists the demo persons and hands out a token" do
    expect(get_json("/api/session")).to include("person" => nil, "csrf" => be_a(String), "demo" => include(hash_including("name" => "Maren Oduya", "role" => "administrator")))
  end

  it "lets in with the right password and says who may what" do
    sign_in("maren")
    expect(status).to eq(200)
    expect(get_json("/api/session")).to include("person" => hash_including("name" => "Maren Oduya"), "may" => {"write_rules" => true, "lead" => true})
    sign_in("hollie")
    expect(get_json("/api/session")["may"]).to eq("write_rules" => false, "lead" => false)
  end

  it "answers a wrong password and an unknown address with the same sentence" do
    wrong = call(:post, "/api/sign-in", email: "maren@fennick.example", password: "guess")
    unknown = call(:post, "/api/sign-in", email: "nobody@fennick.example", password: "guess")
    expect([status, wrong]).to eq([401, unknown])
    expect(wrong).to eq("error" => "The e-mail address or the password is not right. Check both and try again.")
    get_json("/api/setup")
    expect(status).to eq(401)
  end

  it "locks a sign-in after failed tries, even for the right password" do
    8.times { call(:post, "/api/sign-in", email: "osk@fennick.example", password: "guess") }
    locked = call(:post, "/api/sign-in", email: "osk@fennick.example", password: Yenvo::Settings::DEMO_PASSWORD)
    expect([status, locked["error"]]).to match([403, /locked for 15 minutes/])
  end

  it "slows down who tries many sign-ins from one address" do
    30.times { |i| call(:post, "/api/sign-in", email: "nobody#{i}@fennick.example", password: "guess") }
    slowed = call(:post, "/api/sign-in", email: "hollie@fennick.example", password: Yenvo::Settings::DEMO_PASSWORD)
    expect([status, slowed["error"]]).to match([429, /Wait a minute/])
  end

  it "ends a session on signing out, on the server too" do
    sign_in("hollie")
    cookie = last_response["set-cookie"] || rack_mock_session.cookie_jar.to_hash
    kept = rack_mock_session.cookie_jar["yenvo"]
    call(:post, "/api/sign-out")
    expect(status).to eq(200)
    get_json("/api/setup")
    expect(status).to eq(401)
    clear_cookies
    set_cookie "yenvo=#{kept}"
    get_json("/api/setup")
    expect([status, cookie.nil?]).to eq([401, false])
  end

  it "ends a session that was idle too long" do
    sign_in("hollie")
    db[:account_active_session_keys].update(last_use: Sequel.lit("CURRENT_TIMESTAMP - INTERVAL 13 HOUR"))
    get_json("/api/setup")
    expect(status).to eq(401)
  end

  it "does not let somebody in who has left" do
    sign_in("wen")
    db[:people].where(key: "wen").update(active: false)
    get_json("/api/setup")
    expect(status).to eq(401)
  end

  it "keeps passwords as argon2 hashes only" do
    expect(db[:accounts].select_map(:password_hash)).to all(start_with("$argon2id$"))
  end

  it "refuses changing calls without the token of the session" do
    sign_in("hollie")
    refused = call(:post, "/api/tasks", {title: "Call"}, token: "forged")
    expect([status, refused["code"]]).to eq([403, "token"])
    expect(db[:tasks].count).to eq(0)
  end

  it "marks the cookie for this site and out of reach of scripts, and sets headers that keep others out" do
    get "/api/session"
    expect(last_response["set-cookie"]).to match(/yenvo=.*httponly; samesite=lax/i)
    expect(last_response["content-security-policy"]).to include("default-src 'self'", "frame-ancestors 'none'")
    expect(last_response["x-content-type-options"]).to eq("nosniff")
  end
end
