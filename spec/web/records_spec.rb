# frozen_string_literal: true

RSpec.describe "Records over the API" do
  before { sign_in("hollie") }

  it "makes, shows, changes, links and notes a record" do
    aldo =
      call(
        :post, "/api/records", kind: "contact",
        values: {title: "Aldo Ferrant", phone: "+353 555 0147", country: "ireland"}
      )
    expect([status, aldo["values"]["stage"]]).to eq([201, "asking"])
    deal =
      call(:post, "/api/records", kind: "deal", values: {title: "Quiet Hour", value: "4,350", boat_owner: aldo["id"]})
    expect(deal).to include(
      "shown" => hash_including("value" => "€4,350", "boat_owner" => "Aldo Ferrant"),
      "links" => {"boat_owner" => {"id" => aldo["id"], "title" => "Aldo Ferrant", "kind" => "contact"}}
    )
    changed = call(:patch, "/api/records/#{deal["id"]}", version: 1, values: {stage: "quoted"})
    expect([status, changed["version"]]).to eq([200, 2])
    call(:post, "/api/records/#{deal["id"]}/interactions", way: "call", text: "Keys are with the harbour office.")
    expect(status).to eq(201)
    ticket = call(:post, "/api/records", kind: "ticket", values: {title: "Wet forepeak"})
    expect(
      call(:post, "/api/records/#{deal["id"]}/links", target: ticket["id"])["linked"].map { |one| one["title"] }
    ).to eq(["Wet forepeak"])
    page = get_json("/api/records/#{deal["id"]}")
    expect(page["history"].map { |entry| entry["what"] }).to eq(
      %w[linked interaction_logged record_changed record_made]
    )
    expect(get_json("/api/records/#{deal["id"]}/history?before=#{page["history"][1]["id"]}")["entries"].size).to eq(2)
  end

  it "answers bad values with 422 and a sentence at each field" do
    refusal =
      call(
        :post, "/api/records", kind: "deal",
        values: {
          title: "Quiet Hour", value: "a word", survey_date: "2026-02-31", survey_type: "sail", boat_length: {"a" => 1}
        }
      )
    expect([status, refusal["fields"].keys]).to eq([422, %w[value survey_date survey_type boat_length]])
    refusal = call(:post, "/api/records", kind: "ticket", values: {title: "Wet forepeak", found: "x" * 1_000_000})
    expect([status, refusal["fields"]["found"]]).to match([422, /at most 20,000 characters/])
  end

  it "tells the second of two editors with 409 and both values" do
    id = call(:post, "/api/records", kind: "deal", values: {title: "Quiet Hour", value: 1})["id"]
    call(:patch, "/api/records/#{id}", version: 1, values: {value: 2})
    refusal = call(:patch, "/api/records/#{id}", version: 1, values: {value: 3})
    expect([status, refusal["conflicts"]]).to match(
      [409, [hash_including("field" => "value", "yours" => "€3", "theirs" => "€2", "who" => "Hollie Banner")]]
    )
  end

  it "pages, filters, sorts and searches a list" do
    60.times do |i|
      make(
        "deal", {"title" => "Boat #{format("%02d", i)}", "value" => i, "stage" => i.even? ? "quoted" : "enquiry"},
        at: Database::NOW + i
      )
    end
    first = get_json("/api/records?kind=deal&sort=value&down=1")
    expect([first["rows"].size, first["rows"].first["title"], first["count"]]).to eq([50, "Boat 59", 60])
    rest = get_json("/api/records?kind=deal&sort=value&down=1&after=#{first["next"]}")
    expect([rest["rows"].map { |row| row["title"] }.last, rest["next"]]).to eq(["Boat 00", nil])
    expect(get_json("/api/records?kind=deal&where.stage=quoted&where.owner=hollie%7Cosk")["count"]).to eq(30)
    expect(get_json("/api/records?kind=deal&search=boat%2007")["rows"].map { |row| row["title"] }).to eq(["Boat 07"])
    expect(get_json("/api/find?text=boat%2007&kind=deal")["found"].map { |row| row["title"] }).to eq(["Boat 07"])
  end

  it "answers what makes no sense with a sentence, never with a stack" do
    {
      "/api/records?kind=ship" => [422, /no kind of record "ship"/],
      "/api/records?kind=deal&sort=price" => [422, /no field "price"/],
      "/api/records?kind=deal&after=nonsense" => [422, /not one that Yenvo gave out/],
      "/api/records?kind=deal&where.price=1" => [422, /no field "price"/], "/api/records" => [400, /must say kind/],
      "/api/records?kind=deal&colour=red" => [400, /no setting "colour"/],
      "/api/records/999999" => [404, /There is no record 999999/],
      "/api/records/abc" => [404, /nothing at this address/], "/api/nothing" => [404, /There is nothing at GET/],
      "/api/worklist?rule=x" => [400, /must be a whole number/]
    }.each do |path, (code, sentence)|
      answer = get_json(path)
      expect([status, answer["error"]]).to match([code, sentence]), path
    end
  end

  it "limits what is sent, and takes JSON only" do
    header "X-CSRF-Token", JSON.parse(get("/api/session").body)["csrf"]
    custom_request("POST", "/api/tasks", {}, :input => "title=x", "CONTENT_TYPE" => "application/x-www-form-urlencoded")
    expect(status).to eq(415)
    custom_request("POST", "/api/tasks", {}, :input => "{broken", "CONTENT_TYPE" => "application/json")
    expect(status).to eq(400)
    custom_request(
      "POST", "/api/tasks", {}, :input => JSON.generate(title: "x" * 4_100_000), "CONTENT_TYPE" => "application/json"
    )
    expect(status).to eq(413)
    call(:post, "/api/tasks", title: "x", colour: "red")
    expect(status).to eq(400)
  end

  it "says that the database is away with 503" do
    id = make("deal")["id"]
    allow(root).to receive(:records).and_raise(Sequel::DatabaseDisconnectError)
    answer = get_json("/api/records/#{id}")
    expect([status, answer["error"]]).to match([503, /cannot reach its database just now/])
  end

  it "keeps what it does not foresee to itself" do
    id = make("deal")["id"]
    allow(root).to receive(:records).and_raise(NoMethodError, "secret detail")
    allow_any_instance_of(SemanticLogger::Logger).to receive(:error)
    answer = get_json("/api/records/#{id}")
    expect([status, answer["error"]]).to match([500, /\ASomething went wrong inside Yenvo/])
    expect(last_response.body).not_to include("secret")
  end
end

RSpec.describe "What nobody sends by accident" do
  before { sign_in("maren") }

  it "is refused with a sentence: places in a list that Yenvo did not give out" do
    place = Base64.urlsafe_encode64(JSON.generate("id" => 1, "value" => "soon"), padding: false)
    expect([get_json("/api/records?kind=deal&after=#{place}")["error"], status]).to match(
      [/not one that Yenvo gave out/, 422]
    )
    rule = {"format" => "yenvo-rule/1", "record" => "deal"}.merge(survey_rule)
    expect([call(:post, "/api/try", rule:, after: {changed: "soon", id: 1})["error"], status]).to match(
      [/not one that Yenvo gave out/, 422]
    )
  end

  it "is refused with a sentence: asking why a rule did not meet what no rule can watch" do
    rule = publish(survey_rule)
    make("deal", "stage" => "survey_booked")
    work
    id = make("deal")["id"]
    entry = root.journal.add("told", cause, record_id: id, kind: "deal", detail: {"text" => "x"})
    expect([get_json("/api/trail/why-not?rule=#{rule[:id]}&entry=#{entry}")["error"], status]).to match(
      [/no rule watches/, 404]
    )
  end

  it "is refused with a sentence: a body too large, before anybody reads it, even without a sign-in" do
    clear_cookies
    answer = call(:post, "/api/sign-in", email: "maren@fennick.example", password: "x" * 4_100_000)
    expect([status, answer["error"]]).to match([413, /at most 4 MB/])
  end
end

RSpec.describe "Taking an entry off its list, over the API" do
  it "is for its owner, leads of that team and administrators, and so is bringing it back" do
    boat = make("deal", who: "osk")["id"]
    entry = root.list_entries.put_on(boat, "entry/launch_roster", cause: cause("osk"))["id"]
    sign_in("hollie")
    none = {"notes" => 0, "open_tasks" => 0, "links" => 0, "kits" => 0, "lists" => 0}
    expect(get_json("/api/records/#{entry}/hanging")).to eq(none)
    expect(call(:delete, "/api/records/#{entry}/lists")["error"]).to match(/by the owner and leads of that team/)
    sign_in("osk")
    call(:delete, "/api/records/#{entry}/lists")
    expect([status, get_json("/api/records/#{entry}")["error"]]).to match([200, /no record/])
    expect(get_json("/api/records/#{entry}/trash")).to include(
      "title" => "Quiet Hour", "by" => "osk", "until" => "2026-12-24T12:00:00.000000Z"
    )
    sign_in("hollie")
    call(:post, "/api/records/#{entry}/trash")
    expect(status).to eq(403)
    sign_in("maren")
    expect(call(:post, "/api/records/#{entry}/trash")).to include("id" => entry)
    expect(get_json("/api/records/#{entry}/trash")["error"]).to match(/nothing to bring back/)
  end
end
