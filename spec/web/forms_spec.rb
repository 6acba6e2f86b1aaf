# frozen_string_literal: true

require "nokogiri"

RSpec.describe "Forms" do
  include FormWords

  around { |example| Dir.mktmpdir { |folder| (root.files = folder) && example.run } }

  describe "in the set-up" do
    before { sign_in("maren") }

    it "are drafted, looked at, published, closed, taken away and brought back" do
      made = call(:post, "/api/forms", name: "Survey", kind: "entry/survey_requests")
      expect([status, made["key"], made["forms"][0]["number"]]).to eq([201, "survey", 0])
      sheet = get_json("/api/forms/sheet?key=survey")
      address = sheet["address"]
      expect(address).to match(%r{\A/f/[A-Za-z0-9]{22}\z})
      get address
      expect(status).to eq(404)
      sheet = call(:put, "/api/forms", key: "survey", form: {heading: "", items: [{ask: "nope"}]}, seen: sheet["seen"])
      expect(sheet["problems"].map { |one| one["path"] }).to include(["heading"], ["items", 0, "ask"])
      expect([call(:post, "/api/forms/publish", key: "survey")["fields"].keys, status]).to match(
        [include("heading", "items.0.ask"), 422]
      )
      sheet = call(:put, "/api/forms", key: "survey", form: {**FormWords::SURVEY, name: "Surveys"}, seen: sheet["seen"])
      expect(sheet).to include("name" => "Surveys", "differs" => true, "problems" => [])
      expect([call(:put, "/api/forms", key: "survey", form: {}, seen: "2020-01-01T00:00:00.000000Z")["error"], status])
        .to match([/Maren Oduya has changed this form/, 409])
      expect(call(:post, "/api/forms/publish", key: "survey")).to include("number" => 1, "differs" => false)
      expect(get_json("/api/forms/version?key=survey&number=1")["form"]).to include("heading" => "Ask for a survey")
      expect(get(address).status).to eq(200)
      call(:post, "/api/forms/open", key: "survey", open: false)
      expect(get(address).body).to include("This form is closed just now.")
      expect(last_response.body).not_to include("<form")
      expect(get_json("/api/forms")["forms"][0]).to include("closed" => true)
      call(:post, "/api/forms/open", key: "survey", open: true)
      expect(call(:delete, "/api/forms", key: "survey")["forms"][0]["retired_at"]).to be_a(String)
      expect(get(address).status).to eq(404)
      call(:post, "/api/forms/back", key: "survey")
      expect(get(address).status).to eq(200)
      expect(get_json("/api/audit?what=setup")["rows"].map { |one| one["words"] }).to include(
        "added the form Survey", "changed the form Surveys"
      )
    end

    it "are shown as visitors would see them, with what is wrong, whatever is typed" do
      found = call(:post, "/api/forms/preview", form: {**FormWords::SURVEY, kind: "entry/survey_requests"})
      expect([found["problems"], Nokogiri::HTML(found["html"]).at("h1").text]).to eq([[], "Ask for a survey"])
      evil = {
        heading: "<script>alert(1)</script>", intro: "\"><img src=x>", kind: "deal",
        items: [{ask: "title", label: "<b>\"x", help: "<i>"}]
      }
      html = call(:post, "/api/forms/preview", form: evil)["html"]
      expect(Nokogiri::HTML(html).css("h1 script, img, label b, .help i")).to be_empty
      expect(call(:post, "/api/forms/preview", form: {kind: "entry/nowhere"})).to match(
        "html" => nil, "problems" => [hash_including("path" => ["kind"])]
      )
    end

    it "are for administrators alone" do
      sign_in("callum")
      call(:post, "/api/forms", name: "Mine", kind: "deal")
      expect([status, get_json("/api/forms")["error"]]).to match([403, /administrator/])
    end
  end

  describe "to a visitor" do
    before { clear_cookies }

    let(:row) { a_form }
    let(:path) { "/f/#{row[:address]}" }
    let(:given) { {"contact:title" => "Aldo", "contact:email" => "aldo@sea.example", "title" => "Petrel"} }

    # The page as a browser gets it.
    def look(at = path)
      get at
      Nokogiri::HTML(last_response.body)
    end

    def wait(seconds = 5)
      @late = @late.to_i + seconds
      allow(WebClient.clock).to receive(:now).and_return(Database::NOW + @late)
    end

    # As a browser sends the page's form.
    def send_in(answers = given, path: self.path, script: false, stamp: nil, **more)
      stamp ||= look(path).at("input[name=stamp]")["value"]
      wait
      header "Accept", script ? "application/json" : "text/html"
      more = {"homepage" => "", "consent" => "yes", **more.transform_keys(&:to_s)}
      post(path, {"stamp" => stamp, "a" => answers, **more})
    ensure
      header "Accept", nil
    end

    def wrong = Nokogiri::HTML(last_response.body).css("#wrong a").to_h { |link| [link["href"], link.text] }

    it "is a page of its own that needs neither cookie nor script, and may stand in the pages it names" do
      page = look
      headers = last_response.headers
      expect(headers["content-security-policy"]).to end_with("frame-ancestors 'self' https://sea.example")
      expect([headers["x-frame-options"], headers["set-cookie"]]).to eq([nil, nil])
      expect(page.at("form")["action"]).to eq(path)
      names = page.css("form [name]").map { |one| one["name"] }
      expect(names).to eq(
        %w[stamp homepage a[contact:title] a[contact:email] a[contact:phone] a[title] a[survey_type] a[wanted_by]
          consent]
      )
      controls = page.css("form [id]").to_h { |one| [one["id"], one] }
      expect(page.css("form label").map { |one| controls.key?(one["for"]) }).to all(be(true))
      expect([page.at("[name='a[contact:email]']")["type"], page.at("[name='a[wanted_by]']")["type"]]).to eq(
        %w[email date]
      )
    end

    it "makes record and contact, and says thanks at another address, so that a reload sends nothing" do
      send_in
      expect([status, last_response.headers["location"]]).to match([303, /#{path}\/thanks\z/])
      expect(look("#{path}/thanks").at(".said").text).to match(/Thank you/)
      entry = db[:records].where(kind: "entry/survey_requests").first
      expect(root.records.find!(entry[:id])).to include("title" => "Petrel", "stage" => "new", "asked_by" => Integer)
      send_in(given.merge("title" => "Tern"), script: true)
      expect([status, JSON.parse(last_response.body)]).to match([201, {"thanks" => /Thank you/}])
      expect(db[:records].group_and_count(:kind).as_hash(:kind, :count)).to eq(
        "contact" => 1, "entry/survey_requests" => 2
      )
    end

    it "is taken once, however often it is sent" do
      stamp = look.at("input[name=stamp]")["value"]
      3.times { send_in(stamp:) && expect(status).to(eq(303)) }
      expect(db[:records].where(kind: "entry/survey_requests").count).to eq(1)
    end

    it "says what is wrong where it is, and keeps what was typed" do
      send_in({"contact:email" => "nobody", "title" => "Petrel <x>", "survey_type" => "sail"}, consent: nil)
      expect([status, wrong]).to match(
        [422, {
          "#f0" => "Your name has to be filled in.", "#f1" => /Your e-mail takes an e-mail address/,
          "#f4" => /What for/, "#consent" => /agree/
        }]
      )
      page = Nokogiri::HTML(last_response.body)
      expect(page.at("[name='a[title]']")["value"]).to eq("Petrel <x>")
      expect(page.at("[name='a[contact:email]']").to_h).to include(
        "value" => "nobody", "aria-invalid" => "true", "aria-describedby" => "f1-wrong"
      )
      expect([page.at("#f1-wrong").text, page.at("#consent-wrong").text]).to match(
        [/takes an e-mail address/, "Tick that you agree, to send it."]
      )
      send_in({}, script: true, consent: nil)
      expect(JSON.parse(last_response.body)).to match(
        "wrong" => {"contact:title" => String, "contact:email" => String, "title" => String, "consent" => String},
        "stamp" => String
      )
      expect(db[:records].count).to eq(0)
    end

    it "takes the kinds and sizes of files that tasks take" do
      row = a_form("Pictures", kind: "deal", items: [{"ask" => "title"}, {"ask" => "files", "required" => true}])
      path = "/f/#{row[:address]}"
      file = ->(name, bytes) { Rack::Test::UploadedFile.new(StringIO.new(bytes), nil, true, original_filename: name) }
      send_in({"title" => "Petrel"}, path:)
      expect(wrong).to eq("#f1" => "Files has to be filled in.")
      send_in({"title" => "Petrel"}, path:, files: [file.call("a.png", "no picture")])
      expect([status, wrong.values]).to match([422, [/is not what its name says/]])
      send_in({"title" => "Petrel"}, path:, files: Array.new(6) { |n| file.call("#{n}.txt", "x") })
      expect(wrong.values).to eq(["At most 5 files."])
      send_in({"title" => "Petrel"}, path:, files: [file.call("hull.txt", "Hull")])
      expect([status, db[:attachments].select_map(:name)]).to eq([303, ["hull.txt"]])
      # Who sends files to a form that asks for none is no visitor of it.
      send_in(files: [file.call("hull.txt", "Hull")])
      expect(status).to eq(422)
    end

    it "keeps floods out: by address and form over all processes, by a field that people do not see, by time" do
      send_in(homepage: "http://spam.example")
      expect([status, db[:records].count]).to eq([303, 0])
      stamp = look.at("input[name=stamp]")["value"]
      post path, {"stamp" => stamp, "a" => given, "consent" => "yes"}
      expect([status, last_response.body]).to match([422, /That was very quick/]) if wait(0)
      send_in(stamp: "1.a.b")
      expect([status, last_response.body]).to match([422, /had stood open for too long/])
      stamp = look.at("input[name=stamp]")["value"]
      wait(90_000)
      post path, {"stamp" => stamp, "a" => given, "consent" => "yes"}
      expect(last_response.body).to match(/had stood open for too long/)
      8.times { |n| send_in(given.merge("title" => n.to_s)) }
      send_in
      expect([status, last_response.body]).to match([429, /Too much was sent from here/])
      expect(look(path).at("form")).not_to be_nil
    end

    it "takes nothing apart of who sends too much, whatever it is" do
      31.times { custom_request("POST", "/f/nowhere", {}, {:input => "a=1", "CONTENT_TYPE" => "text/plain"}) }
      expect(status).to eq(429)
      broken = {:input => "--x\r\nbroken", "CONTENT_TYPE" => "multipart/form-data; boundary=x"}
      custom_request("POST", path, {}, broken)
      expect([status, last_response.body]).to match([429, /\AToo much was sent from here\./])
    end

    def before_save(name, action)
      publish("name" => name, "record" => "entry/survey_requests", "run" => "before_save",
        "trigger" => {"when" => "record_made"}, "branches" => [{"do" => [action]}])
    end

    it "reads what a rule says to whoever saves" do
      before_save("Whole", {"action" => "refuse", "text" => "Not on a Sunday."})
      send_in
      expect([status, last_response.body]).to match([422, /Not on a Sunday\./])
    end

    it "learns nothing else of the house" do
      empty = {"field" => "title", "text" => "{{ record.message }}"}
      before_save("Secret recipe", {"action" => "set", "values" => [empty]})
      send_in
      expect([status, last_response.body]).to match([422, /could not be taken/])
      expect(last_response.body).not_to include("recipe")
      expect([look("/f/nowhere").text, status]).to match([/no form at this address/, 404])
    end

    it "answers broken calls with a page, never with a stack" do
      row
      [
        *["a[title][x]=1&stamp=", "a=1&stamp=x", "a[title]=%ff", "a[title]=%00&stamp=1", "a#{"[b]" * 200}=1",
          "files[]=x&stamp=1"].map { |body| [body, "application/x-www-form-urlencoded"] },
        ["--x\r\nbroken", "multipart/form-data; boundary=x"], ["", "multipart/form-data"], ["{}", "application/json"]
      ].each do |body, type|
        custom_request("POST", path, {}, {:input => body, "CONTENT_TYPE" => type})
        expect(status).to be_between(400, 429), "#{body[0, 30]} answered #{status} #{last_response.body[0, 200]}"
        expect(last_response.body).not_to include("lib/yenvo")
      end
      expect(custom_request("PUT", path, {}, {input: ""}).status).to eq(404)
    end

    it "does without what the set-up has lost" do
      row
      db[:kinds].where(key: "entry/survey_requests").update(removed_at: Database::NOW)
      root.transaction { root.setup_store.changed(who: nil, now: Database::NOW) }
      expect([get(path).status, last_response.body]).to match([404, /no form at this address/])
    end
  end
end
