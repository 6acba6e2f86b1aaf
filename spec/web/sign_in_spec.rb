# frozen_string_literal: true

RSpec.describe "Signing in" do
  it "lists the demo persons and hands out a token" do
    expect(get_json("/api/session")).to include(
      "person" => nil, "csrf" => be_a(String),
      "demo" => include(hash_including("name" => "Maren Oduya", "role" => "administrator"))
    )
  end

  it "lets in with the right password and says who may what" do
    sign_in("maren")
    expect(status).to eq(200)
    expect(get_json("/api/session")).to include(
      "person" => hash_including("name" => "Maren Oduya"), "may" => {"write_rules" => true, "lead" => true}
    )
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

  describe "after failed tries" do
    def try(email, password = "guess", from: "192.0.2.7")
      clear_cookies
      @token = nil
      header "X-CSRF-Token", csrf
      custom_request(
        "POST", "/api/sign-in", {},
        {
          :input => JSON.generate(email:, password:), "CONTENT_TYPE" => "application/json",
          "REMOTE_ADDR" => from
        }
      )
      [last_response.status, JSON.parse(last_response.body)["error"]]
    end

    before { allow(WebClient.clock).to receive(:now) { @at || Database::NOW } }

    it "makes whoever tries from one address wait, longer each time, and nobody else" do
      4.times { expect(try("osk@fennick.example")[0]).to eq(401) }
      expect(try("osk@fennick.example")).to eq([401, Yenvo::Web::SignIn::WRONG])
      expect(try("osk@fennick.example", Yenvo::Settings::DEMO_PASSWORD)).to eq(
        [429, "Too many failed tries to sign in from here. Wait 15 seconds, then try again."]
      )
      expect(try("osk@fennick.example", Yenvo::Settings::DEMO_PASSWORD, from: "192.0.2.8")[0]).to eq(200)
      @at = Database::NOW + 16
      expect(try("osk@fennick.example")[0]).to eq(401)
      expect(try("osk@fennick.example")[1]).to include("Wait 30 seconds")
      @at += 31
      expect(try("osk@fennick.example", Yenvo::Settings::DEMO_PASSWORD)[0]).to eq(200)
      expect(try("osk@fennick.example")[0]).to eq(401)
    end

    it "says the same, and takes as long, whether anybody has the address or not" do
      known, unknown = %w[osk nobody].map { |name| Array.new(7) { try("#{name}@fennick.example") } }
      expect(known).to eq(unknown)
      allow(Argon2::Password).to receive(:verify_password).and_call_original
      try("somebody@fennick.example")
      expect(Argon2::Password).to have_received(:verify_password).once
    end

    it "tells the person once, in the bell, from where it was tried" do
      7.times { try("osk@fennick.example") }
      7.times { try("osk@fennick.example", from: "192.0.2.9") }
      expect(db[:notices].select_map(%i[person text])).to eq(
        [["osk", "5 tries to sign in as you from 192.0.2.7 have failed. If it was not you, tell an administrator."]]
      )
    end

    it "does not believe what callers say about their address, but what a named proxy says" do
      peer = Yenvo::Web::Peer.new([IPAddr.new("10.0.0.0/8")])
      seen = ->(from, **headers) { peer.address({"REMOTE_ADDR" => from}.merge(headers.transform_keys(&:to_s))) }
      expect(seen.call("192.0.2.7", HTTP_X_FORWARDED_FOR: "198.51.100.1", HTTP_FORWARDED: "for=198.51.100.1")).to eq(
        "192.0.2.7"
      )
      expect(
        seen.call(
          "10.0.0.1", HTTP_X_FORWARDED_FOR: "198.51.100.9, 198.51.100.1, 10.0.0.2", HTTP_FORWARDED: "for=203.0.113.1"
        )
      ).to eq("198.51.100.1")
      expect(seen.call("10.0.0.1", HTTP_X_FORWARDED_FOR: "what, ever")).to eq("10.0.0.1")
      expect(seen.call("2001:db8:1:2:3::4")).to eq("2001:db8:1:2::/64")
      expect([seen.call(""), seen.call(nil)]).to eq(%w[unknown unknown])
    end

    it "counts in a table that cannot grow beyond its slots", :slow do
      600.times { |i| try("nobody#{i}@fennick.example", from: "192.0.2.#{i % 250}") if i < 40 }
      expect(db[:counts].max(:slot)).to be < Yenvo::Store::Counts::SLOTS
      expect(root.counts.add("a", seconds: 60)).to eq(1)
      expect(root.counts.add("a", seconds: 60)).to eq(2)
      db[:counts].update(ends_at: Sequel.lit("NOW() - INTERVAL 1 SECOND"))
      expect([root.counts.add("a", seconds: 60), root.counts.of("a")]).to eq([1, 1])
    end
  end

  it "slows down who tries many sign-ins from one address", :slow do
    # Minutes are those of the clock on the wall, so that one may begin meanwhile.
    slowed =
      (1..62).lazy
        .map { |i| call(:post, "/api/sign-in", email: "nobody#{i}@fennick.example", password: "guess") && status }
        .find_index(429)
    expect([slowed, JSON.parse(last_response.body)["error"]]).to match([be_between(30, 61), /Wait a minute/])
  end

  it "ends a session on signing out, on the server too" do
    sign_in("hollie")
    kept = session_cookie
    expect(status_by(kept)).to eq(200)
    call(:post, "/api/sign-out")
    expect([status, last_request.content_type]).to eq([200, nil])
    get_json("/api/setup")
    expect(status).to eq(401)
    expect(status_by(kept)).to eq(401)
  end

  it "ends a session that was idle too long" do
    sign_in("hollie")
    # Of others who were here before.
    last_request.env["yenvo.house"].presence.write
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

  it "ends the sessions of somebody who leaves, who stays outside until let in again by a sign-in of their own" do
    sign_in("wen")
    kept = session_cookie
    expect(status_by(kept)).to eq(200)
    wen = ->(active) do
      Yenvo::Store::SetupChanges.new(root).person(
        "wen",
        {
          "name" => "Wen Zhao", "email" => "wen@fennick.example", "role" => "member", "team" => "yard_crew",
          "active" => active
        },
        cause: cause("maren")
      )
    end
    wen.call(false)
    clear_cookies
    @token = nil
    expect(call(:post, "/api/sign-in", email: "wen@fennick.example", password: Yenvo::Settings::DEMO_PASSWORD)).to eq(
      "error" => Yenvo::Web::SignIn::WRONG
    )
    expect(db[:account_active_session_keys].count).to eq(0)
    wen.call(true)
    expect(status_by(kept)).to eq(401)
    sign_in("wen")
    expect(status).to eq(200)
  end

  it "does not let a leaver in by a change that says nothing about it" do
    changes = Yenvo::Store::SetupChanges.new(root)
    wen = {"name" => "Wen Zhao", "email" => "wen@fennick.example", "role" => "member", "team" => "yard_crew"}
    changes.person("wen", wen.merge("active" => false), cause: cause("maren"))
    changes.person("wen", wen.merge("name" => "Wen Z"), cause: cause("maren"))
    expect(root.people.find("wen")).to include(active: false, name: "Wen Z")
  end

  it "lets looking at pages write nothing, and notes behind it that somebody is still here" do
    sign_in("hollie")
    db[:account_active_session_keys].update(last_use: Sequel.lit("CURRENT_TIMESTAMP - INTERVAL 11 HOUR"))
    log = StringIO.new
    db.loggers << Logger.new(log)
    %w[/api/setup /api/worklist /api/records?kind=deal /api/session /api/notices].each { |path| get_json(path) }
    db.loggers.clear
    expect(log.string).not_to match(/INSERT|UPDATE|DELETE/)
    env = last_request.env
    env["yenvo.house"].presence.write
    expect(db[:account_active_session_keys].get(:last_use)).to be > Time.now.utc - 60
  end

  it "signs nobody in with the demo's password, and lists nobody, in a house that is not the demo's" do
    db[:moved_clock].delete
    expect(get_json("/api/session")).to include("demo" => [], "demo_password" => nil)
    call(:post, "/api/sign-in", email: "maren@fennick.example", password: Yenvo::Settings::DEMO_PASSWORD)
    expect(status).to eq(401)
  end

  it "keeps passwords as argon2 hashes only" do
    expect(db[:accounts].select_map(:password_hash)).to all(start_with("$argon2id$"))
  end

  it "spends on a password what holds guessing up, everywhere but in these specs" do
    script = <<~RUBY
      require "yenvo/web"
      print Yenvo::Store::Passwords.kept("felt hammer oak"), " ", Yenvo::Web::SignIn::NOBODY
    RUBY
    out, err, status = Open3.capture3(RbConfig.ruby, "-Ilib", "-e", script)
    expect([err, status.success?]).to eq(["", true])
    expect(out.split(" ")).to all(start_with("$argon2id$v=19$m=65536,t=2,p=1$"))
    expect(Yenvo::Store::Passwords::COST).to eq(t_cost: 2, m_cost: 16, p_cost: 1)
  end

  it "keeps a password that somebody changes at the same cost" do
    sign_in("hollie")
    allow(Yenvo::Store::Passwords).to receive(:cost).and_return({t_cost: 1, m_cost: 5, p_cost: 1})
    words = {"password" => Yenvo::Settings::DEMO_PASSWORD, "new-password" => "felt hammer oak"}
    call(:post, "/api/change-password", words)
    expect(status).to eq(200)
    expect(db[:accounts].where(person: "hollie").get(:password_hash)).to start_with("$argon2id$v=19$m=32,t=1,p=1$")
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
