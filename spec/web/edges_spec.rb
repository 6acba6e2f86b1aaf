# frozen_string_literal: true

# What reaches the web side before any resource does: broken, huge, and sent by somebody else.
RSpec.describe "The edges of the API" do
  def send_raw(method, path, body = nil, type = "application/json", **headers)
    header "X-CSRF-Token", csrf
    custom_request(
      method, path, {},
      {:input => body || "", "CONTENT_TYPE" => (type if body)}.compact.merge(headers.transform_keys(&:to_s))
    )
    [last_response.status, JSON.parse(last_response.body)["error"]]
  end

  describe "answers with a sentence" do
    before { sign_in("maren") }

    bodies = {
      "a list" => "[1]", "a text" => '"x"', "a number" => "5", "nothing" => "null", "half of one" => '{"email":',
      "broken UTF-8" => "{\"email\":\"\xff\",\"password\":\"x\"}",
      "a number beyond all bounds" => '{"email":1e999,"password":"x"}',
      "a NUL" => '{"email":"a\u0000b","password":"x"}',
      "a number of a million digits" => "{\"email\":#{"9" * 1_000_000}}", "nesting without end" => "[" * 100_000
    }
    bodies.each do |name, body|
      it "to a body that is #{name}" do
        %w[/api/sign-in /api/records /api/tasks /api/setup/lists /api/try/check /api/presets].each do |path|
          expect(send_raw("POST", path, body)).to match([400, /\A(The body|The call)/]),
            "#{path} answered #{last_response.status} #{last_response.body[0, 300]}"
        end
      end
    end

    queries = %w[%ff a=%ff a=1&a[]=2 a=%00 search=%00] + ["a#{"[b]" * 120}=1", "#{"a" * 70_000}=1"]
    queries.each do |query|
      it "to the query #{query[0, 30]}" do
        %w[/api/records?kind=deal& /api/worklist? /api/trail? /api/session? /?].each do |path|
          next if path == "/?" && query.size > 60_000

          code, = send_raw("GET", path + query) if path != "/?"
          code ||= get("/?#{query}").status
          expect(code).to be_between(200, 499), "#{path} answered #{code}"
        end
      end
    end

    it "to numbers in addresses that are none, or too large" do
      rule = publish(survey_rule)[:id]
      [
        "/api/rules/#{rule}/versions/abc", "/api/rules/#{rule}/versions/#{"9" * 30}", "/api/rules/#{rule}/compare/a/b",
        "/api/records/#{"9" * 30}", "/api/tasks/1e3", "/api/kits/x"
      ].each { |path| expect(send_raw("GET", path)).to match([404, /nothing at this address|There is no/]), path }
    end

    it "to filters that no number can be" do
      %w[where.value=1e999 where.value=nan from.value=1e999 where.boat_owner=9999999999999999999999].each do |query|
        code, sentence = send_raw("GET", "/api/records?kind=deal&#{query}")
        expect([code, sentence]).to match([422, anything]).or(match([200, nil])), query
      end
    end

    it "to a form beside a call that takes none" do
      expect(send_raw("GET", "/api/worklist", "a=%ff&b[", "application/x-www-form-urlencoded")[0]).to eq(200)
      expect(send_raw("POST", "/api/sign-out", "a=%ff&b[", "application/x-www-form-urlencoded")[0]).to eq(200)
    end
  end

  it "refuses what is too long by what is sent to" do
    expect(send_raw("POST", "/in/nowhere", "x" * 1_000_001)).to eq(
      [413, "The body must have at most 1 MB. Send less."]
    )
    expect(send_raw("POST", "/api/records", "x" * 4_000_001)).to eq(
      [413, "The body must have at most 4 MB. Send less."]
    )
  end

  it "gives out figures to this machine, or to who knows the token, and to nobody else" do
    expect(get("/metrics").status).to eq(200)
    expect(get("/metrics", {}, {"REMOTE_ADDR" => "192.0.2.7"}).status).to eq(403)
    expect(get("/metrics", {}, {"REMOTE_ADDR" => "127.0.0.1", "HTTP_X_FORWARDED_FOR" => "192.0.2.7"}).status).to eq(403)
    house =
      Yenvo::Web::House.new(
        root:, clock: WebClient.clock, settings: WebClient.settings.with(metrics_token: "a token of its own"),
        live: nil
      )
    ask = ->(authorization) do
      Yenvo::Web::Metrics.new(house).call("REMOTE_ADDR" => "192.0.2.7", "HTTP_AUTHORIZATION" => authorization)[0]
    end
    expect(["Bearer a token of its own", "Bearer guess", nil].map(&ask)).to eq([200, 403, 403])
  end

  it "keeps answers out of every cache, and says where HTTPS is spoken" do
    sign_in("hollie")
    get_json("/api/setup")
    expect(last_response["cache-control"]).to eq("no-store")
    settings = WebClient.settings.with(https: true)
    house =
      Yenvo::Web::House.new(root:, clock: WebClient.clock, settings:, live: Yenvo::Web::Live.new(root))
    app = Yenvo::Web::App.build(house, pages: File.expand_path("../fixtures/pages", __dir__))
    answer = Rack::MockRequest.new(app).get("/api/session", "HTTP_X_FORWARDED_PROTO" => "https")
    expect(answer["set-cookie"]).to match(%r{\A__Host-yenvo=.*path=/; .*secure}i)
    expect(answer["strict-transport-security"]).to eq("max-age=31536000")
  end

  it "does not answer beyond this machine without HTTPS, unless it is the demo" do
    env = {"DATABASE_URL" => "mysql2://u:hidden@h/d", "YENVO_SECRET" => "s" * 64}
    load = ->(**more) { Yenvo::Settings.load(env.merge(more.transform_keys(&:to_s))).fit_for_web! }
    expect { load.call(HOST: "0.0.0.0") }.to raise_error(
      Yenvo::Core::Error, /at 0.0.0.0 without HTTPS.*Set HOST=127.0.0.1.*YENVO_HTTPS=1/
    )
    expect(
      [
        load.call, load.call(HOST: "::1"), load.call(HOST: "0.0.0.0", YENVO_HTTPS: "1"),
        load.call(HOST: "0.0.0.0", YENVO_DEMO: "1")
      ]
    ).to all(be_a(Yenvo::Settings))
    expect { load.call(HOST: "everywhere", YENVO_PROXIES: "10.0.0.0/8, here") }.to raise_error(
      Yenvo::Core::Error, /HOST must be.*YENVO_PROXIES must be addresses.*"here" is none/
    )
  end

  it "never shows where the database is" do
    expect([root.inspect, root.records.inspect, Yenvo::Web::Live.new(root).inspect].join).not_to include(
      Database.server[/:([^:@]+)@/, 1]
    )
  end

  describe "leaves a line in the log" do
    let(:lines) { [] }

    before do
      @logger = instance_double(SemanticLogger::Logger)
      allow(@logger).to receive(:info) { |words, said| lines << [words, said] }
      @watch = Yenvo::Web::Watch.new(log: @logger)
      allow(Yenvo::Web::Watch).to receive(:new).and_return(@watch)
      @house =
        Yenvo::Web::House.new(
          root:, clock: WebClient.clock, settings: WebClient.settings, live: Yenvo::Web::Live.new(root)
        )
      @watched = Yenvo::Web::App.build(@house, pages: File.expand_path("../fixtures/pages", __dir__))
    end

    def app = @watched || super

    it "of sign-ins, failures, refusals and changes of the set-up" do
      call(:post, "/api/sign-in", email: "maren@fennick.example", password: "guess")
      sign_in("hollie")
      call(:post, "/api/setup/lists", {})
      call(:delete, "/api/setup/fields", {kind: "deal", key: "value"})
      sign_in("maren")
      call(:post, "/api/setup/fields", kind: "deal", field: {label: "Berth", type: "text"})
      expect(lines.map { |words, said| [words, said[:person], said[:path], said[:address]] }).to eq(
        [
          ["A sign-in failed", "maren@fennick.example", "/api/sign-in", "127.0.0.1"],
          ["Signed in", "hollie@fennick.example", "/api/sign-in", "127.0.0.1"],
          ["A call was refused", "hollie", "/api/setup/fields", "127.0.0.1"],
          ["Signed in", "maren@fennick.example", "/api/sign-in", "127.0.0.1"],
          ["The set-up was changed", "maren", "/api/setup/fields", "127.0.0.1"]
        ]
      )
    end
  end

  it "says when it is not known whether something was saved, and when others had the turn" do
    sign_in("hollie")
    {
      Yenvo::Store::Uncertain.new("gone") => ["maybe_saved", /may have been saved or not/],
      Sequel::DatabaseLockTimeout.new("lock") => [nil, /Others are changing the same/],
      Errno::ENOSPC.new => [nil, /no room left/],
      Sequel::DatabaseError.new("Mysql2::Error: Disk full") => [nil, /no room left/]
    }.each do |error, (code, words)|
      allow(root.records).to receive(:make).and_raise(error)
      answer = call(:post, "/api/records", kind: "deal", values: {title: "Sallow"})
      expect([status, answer["code"], answer["error"]]).to match([be_between(503, 507), code, words])
    end
  end

  it "shows a link to a record that is gone as such" do
    boat = make("deal", "title" => "Boat")
    ticket = make("ticket", "title" => "Snag", "boat" => boat["id"])["id"]
    gone = {"record" => boat["id"], "version" => boat["version"]}
    Yenvo::Store::WorldBack.new(root, {id: 0}, cause).make_record_back(gone)
    sign_in("hollie")
    expect(get_json("/api/records/#{ticket}")["record"]).to include(
      "shown" => hash_including("boat" => "a record that is gone"), "links" => {}
    )
  end

  it "lets each person ask only so often for what takes much work" do
    sign_in("maren")
    120.times { root.counts.add("post /api/setup/formula maren", seconds: 60) }
    expect(call(:post, "/api/setup/formula", kind: "deal", formula: "= 1", type: "number")["error"]).to include(
      "120 times within a minute"
    )
    sign_in("hollie")
    call(:post, "/api/setup/formula", kind: "deal", formula: "= 1", type: "number")
    expect(status).to eq(200)
  end
end
