# frozen_string_literal: true

RSpec.describe "Links with which people choose a password" do
  def person(**changes) =
    {name: "Nia Brook", email: "nia@fennick.example", role: "member", team: "accounts", absences: [], **changes}

  def key(link) = link.delete_prefix("/welcome#")

  def choose(key, password = "felt hammer oak")
    clear_cookies
    @token = nil
    call(:post, "/api/reset-password", key:, password:).tap { @token = nil }
  end

  def invite
    sign_in("maren")
    call(:post, "/api/setup/persons", person: person).then { |made| key(made["link"]) }
  end

  def again(who = "nia_brook")
    sign_in("maren")
    key(call(:post, "/api/setup/links", person: who)["link"])
  end

  it "let somebody in who is invited; nobody else sees the password, and the link is worth nothing then" do
    link = invite
    expect(db[:accounts].where(person: "nia_brook").get(:password_hash)).to be_nil
    expect(db[:account_password_reset_keys].select_map(:key)).not_to include(link.split("_").last)
    call(:post, "/api/sign-in", email: "nia@fennick.example", password: "")
    expect(status).to eq(401)
    choose(link)
    expect(status).to eq(200)
    expect(get_json("/api/session")["person"]).to include("key" => "nia_brook")
    expect(choose(link, "another oak felt")["error"]).to match(/has been used, is too old/)
    expect(status).to eq(422)
    call(:post, "/api/sign-in", email: "nia@fennick.example", password: "felt hammer oak")
    expect(status).to eq(200)
  end

  it "hold for seven days for an invitation, an hour for a forgotten password, and until a newer is made" do
    older = invite
    hours = -> {
      db[:account_password_reset_keys].get(Sequel.lit("TIMESTAMPDIFF(MINUTE, NOW(), deadline) / 60.0")).round
    }
    expect(hours.call).to eq(168)
    newer = again
    expect(hours.call).to eq(168)
    choose(older)
    expect(status).to eq(422)
    db[:account_password_reset_keys].update(deadline: Sequel.lit("NOW() - INTERVAL 1 SECOND"))
    choose(newer)
    expect(status).to eq(422)
    db[:account_password_reset_keys].delete
    again("hollie")
    expect(hours.call).to eq(1)
  end

  it "refuse a password that is too short, common, or the e-mail, and stay good" do
    link = invite
    {
      "short" => /at least 10 characters/, "password123" => /guessed first/, "nia@fennick.example" => /must not be the/,
      "aaaaaaaaaaaa" => /guessed first/
    }.each do |password, sentence|
      expect(choose(link, password)["error"]).to match(sentence)
      expect(status).to eq(422)
    end
    choose(link)
    expect(status).to eq(200)
  end

  it "end all sessions of whoever has a new password, and the old one" do
    sign_in("hollie")
    kept = session_cookie
    expect(status_by(kept)).to eq(200)
    choose(again("hollie"), "felt hammer oak")
    expect(status_by(kept)).to eq(401)
    sign_in("hollie")
    expect(status).to eq(401)
  end

  it "are made by administrators, for people who are here" do
    sign_in("tobias")
    call(:post, "/api/setup/links", person: "hollie")
    expect(status).to eq(403)
    sign_in("maren")
    call(:post, "/api/setup/links", person: "nobody")
    expect(status).to eq(404)
    link = again("osk")
    row = db[:people].where(key: "osk").first
    osk = {name: row[:name], email: row[:email], role: row[:role], team: row[:team], active: false, absences: []}
    call(:put, "/api/setup/persons", key: "osk", person: osk)
    expect(call(:post, "/api/setup/links", person: "osk")["error"]).to match(/has left/)
    choose(link)
    expect(status).to eq(422)
  end

  it "are not guessed: tries are slowed down, whatever the key looks like" do
    statuses = ["", "1_", "1_#{"a" * 43}", "_", "999999999999_x", "é_é"].map { |key| choose(key) && status }
    expect(statuses).to all(eq(422))
    expect(Array.new(20) { choose("1_guess") && status }).to include(429)
  end

  describe "that somebody asks for who has forgotten theirs" do
    def forget(email) = call(:post, "/api/forgotten", email:).then { |said| [status, said, last_response.headers.keys] }

    before do
      clear_cookies
      @token = nil
      csrf
    end

    it "are asked of every administrator once, in the bell" do
      3.times { forget("hollie@fennick.example") }
      expect(db[:notices].select_map(%i[person what text])).to match(
        [["maren", "forgotten", /\AHollie Banner has forgotten the password/]]
      )
    end

    it "get the same answer and cost the same work, whether anybody has the address or not" do
      db[:people].where(key: "osk").update(active: false)
      # The set-up is read once by a process, whoever asks first.
      root.schema
      known, unknown, gone =
        %w[hollie nobody osk].map do |who|
          db[:counts].delete
          log = StringIO.new
          db.loggers << (logger = Logger.new(log))
          said = Array.new(2) { forget("#{who}@fennick.example") }
          db.loggers.delete(logger)
          [log.string.scan(/\b(SELECT|INSERT|DELETE)\b/).tally, said]
        end
      expect([unknown, gone]).to all(eq(known))
      expect(known[0].keys.flatten).to include("INSERT")
      expect(known[1].map(&:first)).to eq([200, 200])
      expect(db[:notices].count).to eq(1)
    end

    it "are not asked for without end" do
      within_one_minute
      expect(Array.new(7) { forget("hollie@fennick.example")[0] }).to eq(([200] * 5) + ([429] * 2))
    end
  end
end
