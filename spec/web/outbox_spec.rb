# frozen_string_literal: true

RSpec.describe "The outbox over the API" do
  def settings(**env) =
    Yenvo::Settings.load(
      {
        "DATABASE_URL" => Database.url, "YENVO_SECRET" => "s" * 64, "YENVO_DEMO" => "1",
        "SMTP_URL" => "smtp://127.0.0.1:2525", "YENVO_ADDRESS" => "https://yenvo.example/"
      }.merge(env.transform_keys(&:to_s)).compact
    )

  # A house from which mail leaves; what a call says of its own host is nothing to it.
  def app
    @app ||=
      Yenvo::Web::App.build(
        Yenvo::Web::House.new(
          root:, clock: WebClient.clock || Database::FixedClock.new(Database::NOW), settings:,
          live: Yenvo::Web::Live.new(root)
        ),
        pages: File.expand_path("../fixtures/pages", __dir__)
      )
  end

  def from(address) = call(:put, "/api/outbox/from", from: address)
  def sentence = JSON.parse(last_response.body)["fields"].values.first

  def invite(name = "Ada Grey")
    person = {name:, email: "#{name.split[0].downcase}@fennick.example", role: "member", team: "yard_crew"}
    call(:post, "/api/setup/persons", person:)
  end

  before do
    root.secret = settings.session_secret
    sign_in("maren")
  end

  it "sends invitations and links for a new password by mail, when the house has an address, and keeps no link" do
    expect([invite["mailed"], root.outbox.counts]).to eq([false, {}])
    from("house@fennick.example")
    made = invite("Bea Grey")
    row = db[:deliveries].first
    expect([made["mailed"], row]).to match([true, hash_including(to: "bea@fennick.example", secret: true, by: "maren")])
    expect(JSON.parse(row[:content])["text"]).to include("https://yenvo.example#{made["link"]}")
    expect(call(:post, "/api/setup/links", person: "osk")).to include("mailed" => true, "invited" => false)
    expect(db[:deliveries].order(:id).last[:subject]).to eq("A new password for Fennick Sound Boatyard")
    expect(call(:get, "/api/outbox/#{row[:id]}")["text"]).to eq(Yenvo::Store::Outbox::GONE)
    root.outbox.sent(row.merge(content: nil), "250 OK", now: Database::NOW)
    expect(call(:get, "/api/outbox/#{row[:id]}").to_s).not_to include(made["link"].split("#").last)
  end

  describe "a password that was forgotten" do
    def forget(who)
      clear_cookies
      @token = nil
      csrf
      [call(:post, "/api/forgotten", email: "#{who}@fennick.example"), status]
    end

    it "is asked for by mail, the same for an address that nobody has, and the newest stands alone" do
      from("house@fennick.example")
      root.forget
      answers = %w[nobody hollie hollie].map { |who| forget(who) }
      expect(answers.uniq).to eq([[{"ok" => true, "mailed" => true}, 200]])
      expect(db[:deliveries].select_map(%i[to secret state])).to eq([["hollie@fennick.example", true, "waiting"]])
      expect([db[:notices].count, db[:deliveries].get(:content)]).to match([0, /\{link\}/])
    end

    it "costs the same work for an address that nobody has" do
      from("house@fennick.example")
      root.forget
      root.schema
      work = %w[hollie nobody].map do |who|
        db[:counts].delete
        log = StringIO.new
        db.loggers << (logger = Logger.new(log))
        2.times { forget(who) }
        db.loggers.delete(logger)
        log.string.scan(/\b(SELECT|INSERT|DELETE)\b/).tally
      end
      expect(work[0]).to eq(work[1])
    end
  end

  it "says why no mail leaves, and refuses an address that is none" do
    expect(get_json("/api/outbox")["missing"]).to eq("The house has no address yet from which its mail is sent.")
    call(:post, "/api/outbox/try")
    expect(sentence).to match(/no address yet/)
    from("house at fennick")
    expect([status, sentence]).to match([422, /address/])
    from("house@fennick.example")
    expect(call(:post, "/api/outbox/try")["messages"][0]).to include(
      "to" => "maren@fennick.example", "state" => "waiting", "tries" => 0
    )
    expect(root.audit.page(what: "setup")[0][:words]).to eq("changed the setting mail from")
    without = ->(name) { Yenvo::Store::HouseMail.new(root, settings(name => nil)).missing }
    expect([without.call(:SMTP_URL), without.call(:YENVO_ADDRESS)]).to match([/SMTP_URL/, /YENVO_ADDRESS/])
  end

  it "shows what waits and what went, page by page, stops one and sends one again; to administrators alone" do
    ids = Array.new(52) { |i|
      root.outbox.add("mail", "m", {"to" => "a@b.example", "subject" => "S#{i}", "text" => "T"}, cause:)
    }
    first = get_json("/api/outbox")
    expect([first["messages"].size, first["more"], first["counts"]]).to eq([50, true, {"waiting" => 52}])
    expect(get_json("/api/outbox?before=#{first["messages"].last["id"]}")["messages"].size).to eq(2)
    expect(call(:post, "/api/outbox/#{ids[0]}/stop")["message"]["state"]).to eq("stopped")
    expect(get_json("/api/outbox?state=stopped")["messages"].map { |one| one["subject"] }).to eq(["S0"])
    call(:post, "/api/outbox/#{ids[0]}/stop")
    expect(sentence).to eq("It is stopped already, so there is nothing to stop.")
    expect(call(:post, "/api/outbox/#{ids[0]}/again")["message"]["state"]).to eq("waiting")
    call(:post, "/api/outbox/999999/again")
    expect(status).to eq(404)
    get "/metrics"
    expect(last_response.body).to include('yenvo_outbox_messages{way="mail",state="waiting"} 52.0')
    sign_in("tobias")
    get_json("/api/outbox")
    expect(status).to eq(403)
  end
end

RSpec.describe Yenvo::Settings, "of what leaves the house" do
  def load(**env) =
    described_class.load(
      {"DATABASE_URL" => "mysql2://x", "YENVO_SECRET" => "s" * 64}.merge(env.transform_keys(&:to_s))
    )

  it "name the mail server and where the house is reached, or say what is wrong with them" do
    found = load(SMTP_URL: "smtps://a:b@mail.example", YENVO_ADDRESS: "https://yenvo.example/")
    expect([found.smtp.to_s, found.address]).to eq(["mail server mail.example:465", "https://yenvo.example"])
    expect { load(SMTP_URL: "mail.example", YENVO_ADDRESS: "yenvo.example") }.to raise_error(
      Yenvo::Core::Error, /SMTP_URL must be an address.*YENVO_ADDRESS must be an address/m
    )
  end
end
