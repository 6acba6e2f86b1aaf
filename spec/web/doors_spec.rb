# frozen_string_literal: true

RSpec.describe "Doors of programs" do
  include DoorWords

  # As a program sends it, by the headers and bodies of CloudEvents over HTTP.
  def send_to(door, body, type = "application/cloudevents+json", secret: door[:secret], **headers)
    headers = headers.to_h { |name, value| ["HTTP_#{name.to_s.upcase}", value] }
    headers["HTTP_AUTHORIZATION"] = "Bearer #{secret}" if secret
    body = JSON.generate(body) unless body.is_a?(String)
    custom_request("POST", "/in/#{door[:address]}", {}, {:input => body, "CONTENT_TYPE" => type, **headers})
    JSON.parse(last_response.body)
  end

  def entries = db[:records].where(kind: "entry/words_about_us")

  describe "to a program" do
    before { clear_cookies }

    it "take an event in each of the three forms, and answer with the number of the entry" do
      door = a_door
      one = send_to(door, an_event)
      expect([status, one["number"], one["state"]]).to eq([202, entries.get(:id), "taken"])
      expect(send_to(door, an_event)["number"]).to eq(one["number"])
      send_to(door, an_event("2")["data"], "application/json", ce_id: "2", ce_source: "https://sea.example",
        ce_type: "review.written", ce_specversion: "1.0")
      expect(status).to eq(202)
      both = send_to(door, [an_event("3"), an_event("4", {"stars" => "x"})], "application/cloudevents-batch+json")
      expect([status, both["events"]]).to match(
        [202, [hash_including("id" => "3", "state" => "taken"),
          hash_including("id" => "4", "state" => "refused", "errors" => [hash_including("field" => "stars")])]]
      )
      expect(entries.count).to eq(3)
    end

    it "answer with a problem that names the field (RFC 9457)" do
      found = send_to(a_door, an_event("1", {"stars" => "many"}))
      expect([status, last_response.headers["content-type"]]).to eq([422, "application/problem+json"])
      expect(found).to match(
        hash_including("type" => "about:blank", "title" => "It was not taken", "status" => 422, "message" => Integer,
          "errors" => [{"field" => "stars", "detail" => /Stars takes a number/}])
      )
    end

    it "know who sends by the secret or a signature, and nobody else" do
      door = a_door
      body = JSON.generate(an_event)
      signed = lambda do |secret, at|
        signature = Yenvo::Engine::CallWay.signature([secret], "m1", at.to_i, body)
        {webhook_id: "m1", webhook_timestamp: at.to_i.to_s, webhook_signature: "v1,xx #{signature}"}
      end
      [nil, "", "whsec_x"].each { |secret| send_to(door, body, secret:) && expect(status).to(eq(401)) }
      send_to(door, body, secret: nil, **signed.call(door[:secret], Database::NOW - 600))
      expect(status).to eq(401)
      send_to(door, body, secret: nil, **signed.call("whsec_#{["y" * 32].pack("m0")}", Database::NOW))
      expect(status).to eq(401)
      send_to(door, body, secret: nil, **signed.call(door[:secret], Database::NOW - 60))
      expect([status, entries.count]).to eq([202, 1])
    end

    it "are shut to what is no event, too much or too long, with a sentence" do
      door = a_door
      {
        ["{", "application/cloudevents+json"] => 400, ["{}", "application/cloudevents+json"] => 400,
        ["[1]", "application/cloudevents-batch+json"] => 400, ["[]", "application/cloudevents-batch+json"] => 400,
        [JSON.generate(an_event("1", {}, specversion: "0.3")), "application/cloudevents+json"] => 400,
        [JSON.generate(an_event).sub("5", "1e999"), "application/cloudevents+json"] => 400,
        ["<a/>", "application/cloudevents+xml"] => 415, ["{}", "application/json"] => 415, ["", "text/plain"] => 415,
        [JSON.generate(an_event("1", {"text" => "a\u0000b"})), "application/cloudevents+json"] => 400,
        [JSON.generate(Array.new(101) { |n| an_event(n.to_s) }), "application/cloudevents-batch+json"] => 422,
        ["{\"a\":#{"[" * 5_000}", "application/cloudevents+json"] => 400,
        ["\xff", "application/cloudevents+json"] => 400
      }.each do |(body, type), code|
        found = send_to(door, body, type)
        expect([status, found["detail"]]).to match([code, /\w{3,}/]), "#{body[0, 40]}: #{last_response.body[0, 200]}"
      end
      send_to(door, "x" * 1_000_001)
      expect(status).to eq(413)
      expect(entries.count).to eq(0)
      root.program_doors.write(door[:key], {"per_minute" => 1}, cause: cause("maren"))
      send_to(door, an_event)
      found = send_to(door, an_event)
      expect([status, last_response.headers["retry-after"], found["title"]]).to eq([429, "60", "It is too much"])
      root.program_doors.write(door[:key], {"open" => false}, cause: cause("maren"))
      expect([send_to(door, an_event)["title"], status]).to eq(["There is no such door", 404])
    end

    it "tell nothing of the house's rules" do
      empty = {"field" => "title", "text" => "{{ record.web_link }}"}
      publish("name" => "Secret recipe", "record" => "entry/words_about_us", "run" => "before_save",
        "trigger" => {"when" => "record_made"},
        "branches" => [{"do" => [{"action" => "set", "values" => [empty]}]}])
      send_to(a_door, an_event("1", {"link" => nil}))
      expect(status).to eq(422)
      expect(last_response.body).not_to include("recipe")
    end
  end

  describe "in the set-up" do
    before { sign_in("maren") }

    it "are made, filled from a sample, tried, opened, given another secret, taken away and brought back" do
      made = call(:post, "/api/doors", name: "Reviews", kind: "entry/words_about_us")
      expect([status, made["key"], made["secret"], made["doors"][0]]).to match(
        [201, "reviews", /\Awhsec_/, hash_including("open" => false, "waiting" => 0)]
      )
      sheet = get_json("/api/doors/sheet?key=reviews")
      call(:put, "/api/doors", key: "reviews", door: {open: true}, seen: sheet["seen"])
      expect([status, JSON.parse(last_response.body)["fields"].keys]).to eq([422, ["rows"]])
      map = {types: [], **DoorWords::WORDS}
      tried = call(:post, "/api/doors/try", key: "reviews", map:, message: an_event("1", {"site" => "board"}))
      expect(tried).to include("problems" => [], "wrong" => {}, "record" => nil)
      expect(tried["values"]).to include("title" => "Fair winds", "came_from" => "Harbour board", "stars" => "5")
      tried = call(:post, "/api/doors/try", key: "reviews", map:, message: an_event("1", {"stars" => "x"}))
      expect(tried["wrong"]).to match("stars" => /takes a number/)
      sheet = call(:put, "/api/doors", key: "reviews", door: {map:, open: true, sample: an_event, per_minute: 50})
      expect(sheet).to include("open" => true, "per_minute" => 50, "sample" => an_event, "problems" => [])
      call(:put, "/api/doors", key: "reviews", door: {open: false}, seen: "2020-01-01T00:00:00.000000Z")
      expect(status).to eq(409)
      call(:put, "/api/doors", key: "reviews", door: {per_minute: 1.5})
      expect([status, JSON.parse(last_response.body)["fields"].keys]).to eq([422, ["per_minute"]])
      expect(call(:post, "/api/doors/secret", key: "reviews")["secret"]).not_to eq(made["secret"])
      expect(call(:delete, "/api/doors", key: "reviews")["doors"][0]["retired_at"]).to be_a(String)
      back = call(:post, "/api/doors/back", key: "reviews")["doors"][0]
      expect(back).to include("retired_at" => nil, "open" => false)
      words = get_json("/api/audit?what=setup")["rows"]
      expect(words.map { |one| one["words"] }).to include("added the door Reviews", "changed the door Reviews")
      expect(JSON.generate(words)).not_to include(made["secret"])
    end

    it "have an inbox" do
      door = a_door
      ids = %w[1 2 3].map do |id|
        cause = Yenvo::Store::Journal::Cause.house(Database::NOW)
        root.arrivals.take(door, an_event(id, {"stars" => "x"}), cause:).row[:id]
      end
      page = get_json("/api/doors/inbox")
      expect(page["rows"].map { |row| row["id"] }).to eq(ids.reverse)
      expect(page["rows"][0]).to include("wrong" => {"stars" => String}, "body" => hash_including("id" => "3"))
      expect(get_json("/api/doors")["doors"][0]["waiting"]).to eq(3)
      expect(call(:post, "/api/doors/inbox/again", id: ids[0])["state"]).to eq("refused")
      call(:post, "/api/doors/inbox/away", id: ids[0])
      rows = DoorWords::WORDS["rows"].reject { |row| row["field"] == "stars" }
      call(:put, "/api/doors", key: door[:key], door: {map: {:types => [], **DoorWords::WORDS, "rows" => rows}})
      expect(call(:post, "/api/doors/inbox/again", id: ids[1])).to include("state" => "taken", "record_id" => Integer)
      expect(call(:post, "/api/doors/inbox/all", door: door[:key])).to eq("taken" => 1, "refused" => 0)
      call(:post, "/api/doors/inbox/again", id: ids[1])
      expect(status).to eq(422)
      expect(get_json("/api/doors/inbox?state=taken")["rows"].size).to eq(2)
    end

    it "are for administrators alone" do
      sign_in("callum")
      call(:post, "/api/doors", name: "Mine", kind: "deal")
      expect([status, get_json("/api/doors/inbox")["error"]]).to match([403, /administrator/])
    end
  end
end
